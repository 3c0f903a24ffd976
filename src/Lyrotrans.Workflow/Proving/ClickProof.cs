using System.Globalization;
using Lyrotrans.Audio.Click;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>
/// Proves the click: its onsets are looked for in the file without knowing where they should be, and each is compared with the
/// sample of its beat; then its sound is subtracted.
/// </summary>
public static class ClickProof
{
    private const int MostNamed = 20;

    /// <summary>Whether every click lies on its sample and sounds as loud as it was meant to.</summary>
    public static IReadOnlyList<ProofRow> Prove(DeliveryPlan plan, PlannedFile file, SoundFile sound, double loweredDb, CancellationToken stop)
    {
        var rows = new List<ProofRow>();
        void Row(string what, string meant, string was, string difference, bool passed) => rows.Add(new ProofRow("Click", what, meant, was, difference, passed));
        void Same(string what, string meant, string was) => Row(what, meant, was, meant == was ? "0" : "differs", meant == was);
        Same("rate", file.Made.Rate.HeaderHz.ToString(CultureInfo.InvariantCulture), sound.Facts.Rate);
        Same("depth", file.Made.Encoding.Words(), sound.Facts.Encoding.Words());
        Same("channels", file.Channels.ToString(CultureInfo.InvariantCulture), sound.Facts.Channels.ToString(CultureInfo.InvariantCulture));
        Same("length", $"{Digits.Grouped(file.Frames)} samples", $"{Digits.Grouped(sound.Facts.Frames)} samples");
        if (sound.Facts.TimeReference is { } stamp)
        {
            Same("time stamp", $"{Digits.Grouped(PackageBuilder.TimeReference(plan, file))} samples", $"{Digits.Grouped(stamp)} samples");
        }

        var beats = ClickPrint.Beats(plan);
        var click = ClickPrint.Render(plan, plan.Preparation.Click.LevelDb + loweredDb);
        var onsets = new OnsetReader(click.Quietest / 2, click.Quiet / 2);
        var samples = new FoundSamples(sound);
        var (residual, overs) = Listen(click, samples.Source, Math.Max(file.Frames, sound.Facts.Frames), file.Made.Encoding, onsets, stop);
        rows.AddRange(Onsets(beats, onsets.Onsets.Select(o => o + file.Span.Start).ToList()));
        var bound = PrintRule.BoundOfMade(file.Made, plan.Preparation.DitherTo24);
        Row("sound", $"residual below {Decibels.Words(bound)} dBFS", $"{Decibels.Words(residual)} dBFS", $"{Decibels.Words(residual)} dBFS", residual <= bound);
        if (overs > 0)
        {
            Row("overs", $"{Digits.Grouped(overs)} samples above full scale", "held at full scale", "stated", true);
        }

        return samples.Damage("Click") is { } damage ? [.. rows, damage] : rows;
    }

    private static (double ResidualDb, long Overs) Listen(ClickRender click, ISampleSource sound, long frames, SampleEncoding encoding, OnsetReader onsets, CancellationToken stop)
    {
        var meant = new double[Printing.Block];
        var found = Printing.Planar(Math.Max(1, sound.Channels));
        var (peak, overs) = (0.0, 0L);
        for (long at = 0; at < frames; at += Printing.Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Printing.Block, frames - at);
            click.Read(at, count, meant);
            overs += FullScale.Hold(meant.AsSpan(0, count), encoding);
            sound.Read(at, count, found);
            onsets.Take(found[0].AsSpan(0, count));
            foreach (var channel in found)
            {
                for (var i = 0; i < count; i++)
                {
                    peak = Math.Max(peak, Math.Abs(meant[i] - channel[i]));
                }
            }
        }

        return (Decibels.FromRatio(peak), overs);
    }

    private static IEnumerable<ProofRow> Onsets(IReadOnlyList<ClickBeat> beats, List<long> found)
    {
        var off = Math.Abs(found.Count - beats.Count);
        var worst = 0L;
        var named = new List<ProofRow>();
        for (var i = 0; i < Math.Min(found.Count, beats.Count); i++)
        {
            var difference = found[i] - beats[i].Sample;
            if (difference == 0)
            {
                continue;
            }

            off++;
            worst = Math.Abs(difference) > Math.Abs(worst) ? difference : worst;
            if (named.Count < MostNamed)
            {
                named.Add(new ProofRow(
                    $"Click, bar {beats[i].Beat.Bar} beat {beats[i].Beat.Number}", "onset", $"{Digits.Grouped(beats[i].Sample)} samples",
                    $"{Digits.Grouped(found[i])} samples", Digits.Grouped(difference), false));
            }
        }

        yield return new ProofRow(
            "Click", "onsets", $"{Digits.Grouped(beats.Count)}, each on its sample", $"{Digits.Grouped(found.Count)}, {Digits.Grouped(off)} off", Digits.Grouped(worst), off == 0);
        foreach (var row in named)
        {
            yield return row;
        }
    }
}
