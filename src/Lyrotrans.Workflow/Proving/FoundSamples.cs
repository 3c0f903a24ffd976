using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>The samples of a found file, with what the file itself says of them: whether all could be decoded, and their checksum.</summary>
internal sealed class FoundSamples(SoundFile sound)
{
    private readonly SummedSource? _summed = sound.Flac is { } flac && SummedSource.CanSum(flac) ? new SummedSource(sound.Source, flac) : null;

    /// <summary>To be read from its first sample to its last, once, where the checksum is to be known.</summary>
    public ISampleSource Source => _summed ?? sound.Source;

    /// <summary>The row of a file that is damaged in itself, once it was read; null where it is not, or says nothing of itself.</summary>
    public ProofRow? Damage(string subject) =>
        sound.Missing > 0 ? new ProofRow(subject, "decoding", "all samples", $"{Digits.Grouped(sound.Missing)} could not be decoded", Digits.Grouped(sound.Missing), false)
        : _summed?.IsWhole() == false ? new ProofRow(subject, "its own checksum", "that of its sound", "another", "differs", false)
        : null;
}
