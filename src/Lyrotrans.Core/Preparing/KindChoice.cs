using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Preparing;

/// <summary>How the files of one kind differ from all files; what is null is as usual for the kind.</summary>
public sealed record KindChoice
{
    /// <summary>Samples a second.</summary>
    public long? Rate { get; init; }

    /// <summary>How samples are stored.</summary>
    public SampleEncoding? Encoding { get; init; }

    /// <summary>The noise that is added where bits are lost to 16.</summary>
    public DitherForm? Dither { get; init; }

    /// <summary>The file format.</summary>
    public SoundContainer? Container { get; init; }

    /// <summary>Another format in which the same sound goes along; none is only the first.</summary>
    public SoundContainer? Also { get; init; }

    /// <summary>What the files cover.</summary>
    public FileRange? Range { get; init; }

    /// <summary>For <see cref="FileRange.Chosen"/>: session sample; none is where all files begin.</summary>
    public long? Start { get; init; }

    /// <summary>For <see cref="FileRange.Chosen"/>: one past the last session sample; none is where all files end.</summary>
    public long? End { get; init; }

    /// <summary>How many channels the files have; of tracks, those of whose rows nothing else was chosen.</summary>
    public DeliveredChannels? Channels { get; init; }
}
