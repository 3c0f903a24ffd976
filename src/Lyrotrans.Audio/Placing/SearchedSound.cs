using Lyrotrans.Audio.Sources;

namespace Lyrotrans.Audio.Placing;

/// <summary>A sound that is looked through, or looked for.</summary>
/// <param name="open">Opens it.</param>
/// <param name="memory">Keeps it as it is analysed, since it is looked at several times; none for one that is looked at once.</param>
public sealed class SearchedSound(Func<ISampleSource> open, AnalysisMemory? memory = null)
{
    /// <summary>Opens its samples.</summary>
    public Func<ISampleSource> Open { get; } = open;

    /// <summary>All of it at the rate of the analysis.</summary>
    internal AnalysedSound Analysed(CancellationToken stop) => memory?.Get(this, () => Read(stop)) ?? Read(stop);

    private AnalysedSound Read(CancellationToken stop)
    {
        using var mono = new MonoSound(Open());
        var analysed = mono.At(AnalysisSound.Rate);
        var samples = analysed.Whole(stop);
        return new AnalysedSound(samples, analysed.Channel);
    }
}
