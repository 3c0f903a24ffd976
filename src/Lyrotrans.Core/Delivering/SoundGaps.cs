using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>Everything that a delivery sends without its sound.</summary>
/// <param name="All">In the order of the session.</param>
/// <param name="Clips">Clips that go, as clips or in anything printed.</param>
/// <param name="SilentClips">Those of them whose medium is missing, accepted or not.</param>
public sealed record SoundGaps(ValueArray<SoundGap> All, int Clips, int SilentClips)
{
    /// <summary>Those that nobody accepted.</summary>
    public IReadOnlyList<SoundGap> Open => [.. All.Where(g => !g.IsAccepted)];

    /// <summary>What is lacking, in a sentence; empty where nothing is.</summary>
    public string Words(bool accepted)
    {
        var some = All.Where(g => g.IsAccepted == accepted).ToList();
        var silent = some.Where(g => g.Kind == SoundGapKind.Missing).Sum(g => g.Objects.Count);
        return string.Join("; ", new[]
        {
            silent == 0 ? string.Empty : $"{Digits.Grouped(Clips)} clips, {Digits.Grouped(silent)} without sound",
            Listed(some, SoundGapKind.Contradicted, "other than their headers say: "),
            Listed(some, SoundGapKind.Effect, "printed without "),
            Listed(some, SoundGapKind.Instrument, "printed with stand-ins for "),
        }.Where(w => w.Length > 0));
    }

    /// <param name="plan">What goes.</param>
    /// <param name="faults">Media, by their identifiers, that are not there or contradict the session; what the session itself says is missing counts too.</param>
    internal static SoundGaps Of(DeliveryPlan plan, IReadOnlyDictionary<string, MediaFault> faults) => new Finder(plan, faults).Find();

    private static string Listed(List<SoundGap> some, SoundGapKind kind, string words) =>
        some.Where(g => g.Kind == kind).Select(g => g.Of).ToList() is { Count: > 0 } names ? words + Phrases.List(names, "and") : string.Empty;

    private sealed class Finder(DeliveryPlan plan, IReadOnlyDictionary<string, MediaFault> faults)
    {
        private readonly HashSet<string> _accepted = [.. plan.Preparation.Accepted];
        private readonly SignalPaths _paths = SignalPaths.Of(plan.Session);
        private readonly Dictionary<string, Treatment> _treatments = plan.Preparation.Tracks.ToDictionary(c => c.TrackId, c => c.Treatment);
        private readonly TrackRoles _roles = TrackRoles.Of(plan.Session);
        private readonly IReadOnlySet<string> _inMix = MixTracks.Of(plan.Session, plan.Preparation);

        public SoundGaps Find()
        {
            var printed = plan.Files.Where(f => f.IsSound && f.Kind != PlannedKind.Click).Select(Through).ToList();
            var sounding = printed.SelectMany(p => p.Sources).ToHashSet();
            var dry = plan.Files.Where(f => f.Kind == PlannedKind.FromZero && _treatments[f.TrackId!] == Treatment.PrintDry).Select(f => f.TrackId!).ToHashSet();
            var clips = plan.Session.Tracks.SelectMany(t => Going(t, sounding, dry).Select(c => (Track: t, Clip: c))).ToList();
            var media = plan.Session.Media.ToDictionary(m => m.Id);
            var gaps = clips.Where(c => FaultOf(media[c.Clip.Media]) is not null).GroupBy(c => media[c.Clip.Media]).Select(g => Gap(FaultOf(g.Key)!, g.Key, [.. g.Select(c => $"{c.Clip.Name} on {c.Track.Name}")])).ToList();
            var through = printed.SelectMany(p => p.Through).ToHashSet();
            gaps.AddRange(plan.Session.Tracks.Where(t => through.Contains(t.Id)).Select(_roles.Sounding).SelectMany(Effects));
            gaps.AddRange(plan.Session.Tracks.Select(_roles.Sounding).Where(t => t.Kind == TrackKind.Notes && sounding.Contains(t.Id) && t.Parts.Any(p => !p.Muted && p.Notes.Count > 0)).Select(Instrument));
            return new SoundGaps([.. gaps.GroupBy(g => g.Name).Select(Joined)], clips.Count, gaps.Where(g => g.Kind == SoundGapKind.Missing).Sum(g => g.Objects.Count));
        }

        // Two media of one name are accepted by that name, and both are counted.
        private static SoundGap Joined(IGrouping<string, SoundGap> same) => same.First() with
        {
            Why = string.Join("; ", same.Select(g => g.Why).Distinct()),
            Objects = [.. same.SelectMany(g => g.Objects).Distinct()],
        };

        private MediaFault? FaultOf(Media medium) =>
            faults.TryGetValue(medium.Id, out var fault) ? fault : medium.IsAbsent ? MediaFault.Missing : null;

        private SoundGap Gap(MediaFault fault, Media medium, ValueArray<string> objects) => Gap(fault.Kind, medium.FileName, fault.Words, objects);

        private SoundGap Gap(SoundGapKind kind, string of, string why, ValueArray<string> objects) => new(kind, of, why, objects, _accepted.Contains(SoundGap.NameOf(kind, of)));

        private IEnumerable<SoundGap> Effects(Track track) => track.Inserts.Where(i => !i.Bypassed && EffectCatalogue.Find(i.Effect) is null)
            .Select(i => Gap(SoundGapKind.Effect, $"{i.Effect} on {track.Name}", "it cannot sound here; the sound goes past it", [track.Name]));

        // Whoever asked for the print of a stand-in asked for this.
        private SoundGap Instrument(Track track)
        {
            var gap = Gap(SoundGapKind.Instrument, track.Name, "its instrument cannot sound here; a stand-in plays its notes", [track.Name]);
            return _treatments.GetValueOrDefault(track.Id) == Treatment.NotesAndPrint ? gap with { IsAccepted = true } : gap;
        }

        // A muted clip goes as a clip and makes no sound in a print.
        private IEnumerable<Clip> Going(Track track, HashSet<string> sounding, HashSet<string> dry)
        {
            var kept = _treatments.GetValueOrDefault(track.Id) == Treatment.KeepClips;
            var mixed = sounding.Contains(track.Id);
            var own = (track.Sounding?.Clips ?? []).Where(c => kept || ((dry.Contains(track.Id) || (mixed && _roles.PrintOf(track.Id) is null)) && Sounds(c)));
            return mixed && _roles.PrintOf(track.Id)?.Sounding is { } print ? own.Concat(print.Clips.Where(Sounds)) : own;
        }

        private bool Sounds(Clip clip) => !clip.Muted && clip.End > plan.Covered.Start && clip.Start < plan.Covered.End;

        /// <summary>The tracks whose own sound is in a file, and those that it goes through.</summary>
        private (IReadOnlySet<string> Sources, IReadOnlySet<string> Through) Through(PlannedFile file)
        {
            if (file.Kind == PlannedKind.GuideMix && _roles.Guide is { } guide)
            {
                return (new HashSet<string> { guide.Id }, new HashSet<string>());
            }

            var group = file.Kind == PlannedKind.Stem ? StemGroup.Of(plan.Session, plan.Preparation).First(g => g.Name == file.Group).Tracks.ToHashSet() : null;
            if (file.IsMix)
            {
                return Into(_paths.Master, group ?? _inMix, file.Kind == PlannedKind.FinishedMix || plan.Preparation.Mix.Master == StemMaster.Through);
            }

            var track = plan.Session.Tracks.First(t => t.Id == file.TrackId);
            return _treatments[track.Id] == Treatment.PrintDry ? (new HashSet<string>(), new HashSet<string>())
                : track.Kind.IsSource() || _roles.PrintOf(track.Id) is not null ? (new HashSet<string> { track.Id }, new HashSet<string> { track.Id })
                : Into(_paths[track.Id], _inMix, true);
        }

        private (IReadOnlySet<string> Sources, IReadOnlySet<string> Through) Into(Track target, IReadOnlySet<string> sounding, bool withTarget)
        {
            var upstream = _paths.Upstream(target);
            var sources = sounding.Where(upstream.Contains).ToHashSet();
            var through = _paths.Order.Where(t => upstream.Contains(t.Id) && (withTarget || t.Id != target.Id) && _paths.Upstream(t).Overlaps(sources)).Select(t => t.Id).ToHashSet();
            return (sources, through);
        }
    }
}
