using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Adds the found stems up and takes the mix away; what remains is measured second by second.</summary>
public static class StemSumProof
{
    private const double BoundDb = -120;

    /// <param name="plan">With stems.</param>
    /// <param name="stems">The found stems, opened; where each channel has a file, each is held against its channel of the mix.</param>
    /// <param name="guide">The found guide mix, where one was made here as the stems are: at their rate, depth and range; of other tracks than the stems it says nothing of their sum, and the session's own render of the mix is taken, as where it is null.</param>
    /// <param name="printing">Makes that render.</param>
    /// <param name="gain">What the package lowered all files by, as a ratio.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static StemSum Measure(DeliveryPlan plan, IReadOnlyList<(PlannedFile File, SoundFile Sound)> stems, SoundFile? guide, Printing printing, double gain, CancellationToken stop)
    {
        var (bent, all) = (NotLinear(plan), StemGroup.AllOf(plan.Session, plan.Preparation));
        var same = all.SetEquals(MixTracks.Of(plan.Session, plan.Preparation));
        var channels = stems.GroupBy(s => s.File.Channel).Select(g => PerSecond(plan, g.First().File, [.. g.Select(s => s.Sound)], same && g.Key is null ? guide : null, all, printing, gain, stop)).ToList();
        var worst = channels.Aggregate((a, b) => [.. a.Zip(b, Math.Max)]);
        return new StemSum(worst, Bound(plan, stems[0].File, stems.Count + 1), bent, plan.Preparation.Mix.Master == StemMaster.Through && bent.Any(b => b.OnMaster));
    }

    /// <summary>Takes the session's own render of the mix from a guide mix that came along.</summary>
    /// <param name="plan">Of the package.</param>
    /// <param name="guide">The found guide mix, in the mix's channels.</param>
    /// <param name="printing">Makes that render.</param>
    /// <param name="gain">What the package lowered all files by, as a ratio.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static GuideRest Rest(DeliveryPlan plan, SoundFile guide, Printing printing, double gain, CancellationToken stop) =>
        Rest(plan, plan.Files.First(f => f.Kind == PlannedKind.GuideMix), guide, printing, gain, stop);

    private static GuideRest Rest(DeliveryPlan plan, PlannedFile file, SoundFile guide, Printing printing, double gain, CancellationToken stop) =>
        new(PerSecond(plan, file, [guide], null, MixTracks.Of(plan.Session, plan.Preparation), printing, gain, stop), Bound(plan, file, 2));

    // Where a kind has channels of its own, the mix is folded as its files are.
    private static IPrint MixFor(DeliveryPlan plan, PlannedFile file, IReadOnlySet<string> sounding, Printing printing)
    {
        var mix = printing.Mix(sounding, file);
        return plan.Preparation.Kinds[file.Kind == PlannedKind.Stem ? FileKind.Stems : FileKind.GuideMix].Channels is null ? mix : new FoldedPrint(mix, file.Channels, file.Channel, 1);
    }

    private static List<double> PerSecond(DeliveryPlan plan, PlannedFile file, IReadOnlyList<SoundFile> stems, SoundFile? guide, IReadOnlySet<string> sounding, Printing printing, double gain, CancellationToken stop)
    {
        var channels = stems[0].Source.Channels;
        using var mix = guide is null ? MixFor(plan, file, sounding, printing) : null;
        var second = (int)Math.Max(1, file.Made.Rate.HeaderHz);
        var perSecond = new List<double>();
        var sum = Planar(channels, second);
        var part = Planar(channels, second);
        var meant = Planar(channels, second);
        for (long at = 0; at < file.Frames; at += second)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(second, file.Frames - at);
            Mix(mix, guide, gain, at, count, meant);
            Array.ForEach(sum, c => c.AsSpan(0, count).Clear());
            foreach (var stem in stems)
            {
                stem.Source.Read(at, count, part);
                Add(part, sum, count);
            }

            perSecond.Add(Decibels.FromRatio(Largest(sum, meant, count)));
        }

        return perSecond;
    }

    /// <summary>Effects in the way of the stems for which the effect of a sum is not the sum of the effects.</summary>
    public static IReadOnlyList<BentPath> NotLinear(DeliveryPlan plan)
    {
        if (plan.Preparation.Mix.DryStems)
        {
            return [];
        }

        var groups = StemGroup.Of(plan.Session, plan.Preparation);
        var paths = SignalPaths.Of(plan.Session);
        return plan.Session.Tracks.Where(t => Shared(t, groups, paths) && (t.Kind != TrackKind.Master || plan.Preparation.Mix.Master == StemMaster.Through))
            .SelectMany(t => t.Inserts.Where(i => !EffectCatalogue.IsLinear(i)).Select(i => new BentPath(i.Effect, t.Name, t.Kind == TrackKind.Master))).ToList();
    }

    // What only one stem goes through bends that stem and the mix alike.
    private static bool Shared(Track track, IReadOnlyList<StemGroup> groups, SignalPaths paths)
    {
        if (track.Kind is not (TrackKind.Bus or TrackKind.Return or TrackKind.Master))
        {
            return false;
        }

        var upstream = paths.Upstream(track);
        return groups.Count(g => g.Tracks.Any(upstream.Contains)) > 1;
    }

    private static double Bound(DeliveryPlan plan, PlannedFile file, int files) => Math.Max(BoundDb, RoundingDb(plan, file, files));

    /// <summary>What rounding and dither of so many files can add up to, in dBFS.</summary>
    private static double RoundingDb(DeliveryPlan plan, PlannedFile file, int files) =>
        file.Made.Encoding.IsFloat() ? BoundDb : Decibels.FromRatio(files * Decibels.ToRatio(PrintRule.BoundOfMade(file.Made, plan.Preparation.DitherTo24)));

    private static void Mix(IPrint? mix, SoundFile? guide, double gain, long at, int count, double[][] into)
    {
        if (guide is not null)
        {
            guide.Source.Read(at, count, into);
            return;
        }

        mix!.Read(at, count, into);
        foreach (var channel in into)
        {
            foreach (ref var sample in channel.AsSpan(0, count))
            {
                sample *= gain;
            }
        }
    }

    private static void Add(double[][] part, double[][] sum, int count)
    {
        for (var c = 0; c < sum.Length; c++)
        {
            for (var i = 0; i < count; i++)
            {
                sum[c][i] += part[c][i];
            }
        }
    }

    private static double Largest(double[][] a, double[][] b, int count)
    {
        var most = 0.0;
        for (var c = 0; c < a.Length; c++)
        {
            for (var i = 0; i < count; i++)
            {
                most = Math.Max(most, Math.Abs(a[c][i] - b[c][i]));
            }
        }

        return most;
    }

    private static double[][] Planar(int channels, int count) => Enumerable.Range(0, channels).Select(_ => new double[count]).ToArray();
}
