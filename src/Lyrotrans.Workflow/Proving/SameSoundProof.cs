using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Holds a file against the one whose sound it has in another format: every sample is the same.</summary>
public static class SameSoundProof
{
    /// <param name="file">The file.</param>
    /// <param name="found">As it was found.</param>
    /// <param name="of">The file whose sound it has, as it was found.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static ProofRow Prove(PlannedFile file, SoundFile found, SoundFile of, CancellationToken stop)
    {
        var form = (Rate: file.Made.Rate.HeaderHz, Words: file.Made.Encoding.Words(), file.Channels, file.Frames);
        var samples = new FoundSamples(found);
        if ((samples.Source.Rate.HeaderHz, found.Facts.Encoding.Words(), samples.Source.Channels, samples.Source.Length) != form || of.Source.Channels != file.Channels)
        {
            return new ProofRow(Path.GetFileName(file.Path), "same sound", $"{form.Rate} Hz, {form.Words}, {Phrases.Channels(form.Channels)}, {Digits.Grouped(form.Frames)} samples", $"{samples.Source.Rate.HeaderHz} Hz, {found.Facts.Encoding.Words()}, {Phrases.Channels(samples.Source.Channels)}, {Digits.Grouped(samples.Source.Length)} samples", "differs", false);
        }

        var differs = FirstDifference(file, samples, of, stop);
        return samples.Damage(Path.GetFileName(file.Path)) ?? new ProofRow(
            Path.GetFileName(file.Path), $"same sound as {Path.GetFileName(file.Of)}", "every sample", differs is { } at ? $"other from sample {Digits.Grouped(at)} on" : "every sample", differs is null ? "0" : "differs", differs is null);
    }

    private static long? FirstDifference(PlannedFile file, FoundSamples found, SoundFile of, CancellationToken stop)
    {
        var (a, b) = (Printing.Planar(file.Channels), Printing.Planar(file.Channels));
        long? first = null;

        // All is read, so that what the file says of itself is known.
        for (long at = 0; at < file.Frames; at += Printing.Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Printing.Block, file.Frames - at);
            found.Source.Read(at, count, a);
            of.Source.Read(at, count, b);
            for (var c = 0; c < file.Channels && first is null; c++)
            {
                var same = a[c].AsSpan(0, count).CommonPrefixLength(b[c].AsSpan(0, count));
                first = same < count ? at + same : null;
            }
        }

        return first;
    }
}
