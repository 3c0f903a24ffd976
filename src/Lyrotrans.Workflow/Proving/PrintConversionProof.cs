using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Audio.Comparing;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Build.Prints;

namespace Lyrotrans.Workflow.Proving;

/// <summary>
/// Prints of another rate than the session's are converted once more, by a converter that shares nothing with the one that made them, at places that nobody knows before the package is there. What goes
/// through effects has to be made from its beginning on, so its places lie near that.
/// </summary>
internal static class PrintConversionProof
{
    private const int MostFiles = 24;
    private const int MixSeconds = 10;

    // More than the two converters and the filter between them reach.
    private const int Beside = 4096;

    /// <param name="plan">What was meant.</param>
    /// <param name="printing">Makes it.</param>
    /// <param name="lot">Which places; the manifest's hash, for one.</param>
    /// <param name="stop">Stops between files.</param>
    /// <returns>Nothing where no print was converted.</returns>
    public static IEnumerable<ProofRow> Prove(DeliveryPlan plan, Printing printing, string lot, CancellationToken stop)
    {
        var all = plan.Files.Where(f => f.IsSound && f.Kind != PlannedKind.Click && f.Made.Rate != plan.Session.Rate).ToList();
        if (all.Count == 0)
        {
            return [];
        }

        // The mixes first: there are few of them, and each is made another way.
        var files = all.OrderBy(f => f.IsMix ? 0 : 1).Take(MostFiles).ToList();
        var dice = new Random(BitConverter.ToInt32(SHA256.HashData(Encoding.UTF8.GetBytes($"prints {lot}"))));
        var places = files.Select(f => Drawn(plan, f, dice)).ToList();
        var errors = new (double Peak, double Late)[files.Count];
        AtOnce.Each(files.Count, i => errors[i] = Compare(plan, printing, files[i], places[i]), stop);
        var (worst, late) = (Decibels.FromRatio(errors.Max(e => e.Peak)), errors.Max(e => e.Late));
        return
        [
            new ProofRow(
                "Converted prints", $"against a second converter, in {Digits.Grouped(files.Count)} of {Phrases.Count(all.Count, "file")}",
                $"below {Decibels.Words(ConversionProof.BoundDb)} dBFS, {ConversionProof.MostLate.ToString(CultureInfo.InvariantCulture)} samples",
                $"{Decibels.Words(worst)} dBFS, {late.ToString("0.######", CultureInfo.InvariantCulture)} samples", "0", worst <= ConversionProof.BoundDb && late <= ConversionProof.MostLate),
        ];
    }

    private static SampleRange Drawn(DeliveryPlan plan, PlannedFile file, Random dice)
    {
        var count = Math.Min(file.Frames, file.Made.Rate.HeaderHz / 4);
        var dry = plan.Preparation.Tracks.Any(c => c.TrackId == file.TrackId && c.Treatment == Treatment.PrintDry);
        var from = file.Span.Start + dice.NextInt64(Math.Max(1, (dry ? file.Frames : Math.Min(file.Frames, (long)MixSeconds * file.Made.Rate.HeaderHz)) - count + 1));
        return new SampleRange(from, from + count);
    }

    private static (double Peak, double Late) Compare(DeliveryPlan plan, Printing printing, PlannedFile file, SampleRange place)
    {
        var wide = new SampleRange(place.Start - Beside, place.End + Beside);
        var (source, first) = printing.BeforeConversion(file, wide);
        using var error = new ConversionError(source, file.Made.Rate);
        error.Take(0, place.Start - first, (int)place.Length);
        return (error.Peak, Math.Abs(error.Late));
    }
}
