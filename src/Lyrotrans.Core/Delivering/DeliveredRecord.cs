using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>
/// The session as the document of a package says it: what goes, and every sound by the package's own files, so that whoever has the package has the session. A dry print is one more lane of its track, and sounds; every
/// other is a print of it, beside its clips. Kept clips take their sound from the media that go with them. A stem takes the place of its tracks where one of them goes in no other way; guide mix and click come along.
/// Nothing sounds twice. What no file of the package holds is named as unsent, or as missing where something would sound by it.
/// </summary>
internal sealed class DeliveredRecord
{
    private readonly DeliveryPlan _plan;
    private readonly double _gainDb;
    private readonly SampleRate _rate;
    private readonly Dictionary<string, Treatment> _treatments;
    private readonly TakenNames _ids;
    private readonly TakenNames _mediaIds;
    private readonly KeptClips _kept;
    private readonly List<Media> _sent = [];

    private DeliveredRecord(DeliveryPlan plan, double loweredDb)
    {
        _plan = plan;
        _gainDb = -loweredDb;
        _rate = plan.Session.Rate;
        _treatments = plan.Preparation.Tracks.ToDictionary(c => c.TrackId, c => c.Treatment);
        _ids = new TakenNames().Taking(plan.Session.Tracks.Select(t => t.Id));
        _mediaIds = new TakenNames().Taking(plan.Session.Media.Select(m => m.Id));
        _kept = new KeptClips(plan);
    }

    /// <param name="plan">What goes.</param>
    /// <param name="loweredDb">What all sound files were lowered by; the clips over them give it back.</param>
    public static Session Of(DeliveryPlan plan, double loweredDb) => new DeliveredRecord(plan, loweredDb).Make();

    private Session Make()
    {
        var prints = _plan.Files.Where(f => f.Kind == PlannedKind.FromZero).ToLookup(f => f.TrackId!);
        var came = TrackRoles.Of(_plan.Session);
        var recorded = _plan.RecordedTracks().Where(t => !t.Kind.HasRole()).ToList();
        var stems = Stems(recorded);
        var inStems = stems.SelectMany(s => s.Of).ToHashSet();
        var tracks = recorded.SelectMany(t => WithSound(t, [.. prints[t.Id]], came, inStems)).Concat(stems.SelectMany(s => s.Tracks)).Concat(Alone(PlannedKind.GuideMix, TrackKind.GuideMix)).Concat(Alone(PlannedKind.Click, TrackKind.Click)).ToValueArray();
        return MediaNames.WithoutHashes(_plan.Session with { Picture = _plan.Picture?.Delivered ?? _plan.Session.Picture, Tracks = tracks }) with { Media = Media(tracks) };
    }

    private IEnumerable<Track> WithSound(Track track, List<PlannedFile> files, TrackRoles came, HashSet<string> inStems)
    {
        var treatment = _treatments.GetValueOrDefault(track.Id, Treatment.HoldBack);
        if (files.Count == 0)
        {
            // What goes in its stem only, and in none that stands for it, is silent: the stem's own tracks sound.
            return treatment == Treatment.KeepClips ? _kept.Of(track) : treatment == Treatment.StemOnly && !inStems.Contains(track.Id) ? [track with { State = TrackState.Muted }] : [track];
        }

        // A stand-in is no record of the track, whose notes are.
        if (treatment == Treatment.NotesAndPrint && came.PrintOf(track.Id) is null)
        {
            return [track];
        }

        if (files.Count > 1 || files[0].Channel is not null)
        {
            return Channels(track, files, treatment).Prepend(track with { State = TrackState.Muted });
        }

        return treatment == Treatment.PrintDry && MapOf(files[0].Channels, track.Channels) is { } map
            ? [track with { Lanes = track.Lanes.Append(LaneOf(files[0], map)).ToValueArray(), SoundingLane = track.Lanes.Count }]
            : [track, Role(files[0], TrackKind.Print, track.Id) with { Holds = treatment switch { Treatment.PrintMixed => PrintHolds.Mix, Treatment.PrintLevel => PrintHolds.Level, _ => PrintHolds.Effects } }];
    }

    // Each channel of a track that goes in several files is a track beside it, from left to right.
    private IEnumerable<Track> Channels(Track track, List<PlannedFile> files, Treatment treatment) => files.Select((file, i) => new Track
    {
        Id = Id(file),
        Name = NameOf(file),
        State = track.State,
        FaderDb = treatment is Treatment.PrintDry or Treatment.PrintThrough or Treatment.NotesAndPrint ? track.FaderDb : 0,
        FaderAutomation = treatment is Treatment.PrintDry or Treatment.PrintThrough or Treatment.NotesAndPrint ? track.FaderAutomation : null,
        Pan = ChannelTracks.PanOf(i, files.Count),
        Inverted = treatment == Treatment.PrintDry && track.Inverted,
        Inserts = treatment == Treatment.PrintDry ? track.Inserts : [],
        Output = track.Output,
        Sends = ChannelTracks.SendsOf(track, i, files.Count),
        Lanes = [LaneOf(file, [0])],
    });

    // Only where a track goes in its stem and in no other way; where all go by themselves, the stems are a second set of the same.
    private List<(ValueArray<string> Of, List<Track> Tracks)> Stems(List<Track> recorded)
    {
        var standing = recorded.Where(t => t.Kind.IsSource() || t.Kind == TrackKind.Bus).Select(t => t.Id).ToHashSet();
        var files = _plan.Files.Where(f => f.Kind == PlannedKind.Stem).ToLookup(f => f.Group!);
        var stems = new List<(ValueArray<string>, List<Track>)>();
        foreach (var group in StemGroup.Of(_plan.Session, _plan.Preparation).Where(g => files[g.Name].Any() && g.Tracks.Any(t => _treatments.GetValueOrDefault(t) == Treatment.StemOnly)))
        {
            var (of, own) = (group.Tracks.Where(standing.Contains).ToValueArray(), files[group.Name].ToList());
            if (own.Count == 1 && own[0].Channel is null && of.Count > 0)
            {
                stems.Add((of, [Role(own[0], TrackKind.Stem, [.. of])]));
                continue;
            }

            stems.Add(([], [.. Channels(new Track { Id = group.Name, Name = group.Name }, own, Treatment.PrintMixed)]));
        }

        return stems;
    }

    private IEnumerable<Track> Alone(PlannedKind kind, TrackKind role) =>
        _plan.Files.Where(f => f.Kind == kind).ToList() is [{ Channel: null } file] ? [Role(file, role)] : [];

    private Track Role(PlannedFile file, TrackKind kind, params string[] of) => new()
    {
        Id = Id(file),
        Name = NameOf(file),
        Kind = kind,
        Channels = file.Channels,
        Of = [.. of],
        Lanes = [LaneOf(file, [.. Enumerable.Range(0, file.Channels)])],
    };

    private Lane LaneOf(PlannedFile file, ValueArray<int> map)
    {
        var medium = new Media
        {
            Id = _mediaIds.Free($"file-{Inside(file.Path)}", '~'),
            FileName = Inside(file.Path),
            Rate = file.Made.Rate,
            Encoding = file.Made.Encoding,
            Channels = file.Channels,
            Length = file.Frames,
        };
        _sent.Add(medium);
        return new Lane(NameOf(file), [new Clip
        {
            Id = $"{medium.Id}-clip",
            Name = NameOf(file),
            Media = medium.Id,
            ChannelMap = map,
            Start = file.Made.Rate.Convert(file.Span.Start, _rate),
            Length = Math.Max(1, file.Made.Rate.Convert(file.Frames, _rate)),
            GainDb = _gainDb,
        }]);
    }

    /// <summary>Which channel of a file feeds each of a track; null where there is no plain answer.</summary>
    private static ValueArray<int>? MapOf(int file, int track) => file == track ? [.. Enumerable.Range(0, track)]
        : file == 1 ? [.. Enumerable.Repeat(0, track)]
        : track == 1 ? [0]
        : null;

    private ValueArray<Media> Media(ValueArray<Track> tracks)
    {
        var used = tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Select(c => c.Media).ToHashSet();
        var needed = NeededMedia.Of(_plan.Session with { Tracks = tracks });
        var kept = _kept.Media.ToDictionary(m => m.Id);
        var own = _plan.Session.Media.Where(m => used.Contains(m.Id) && !kept.ContainsKey(m.Id)).Select(m => MediaNames.WithoutHashes(m) with { Place = needed.Contains(m.Id) ? MediaPlace.Missing : MediaPlace.Unsent });
        return [.. own, .. kept.Values.Where(m => used.Contains(m.Id)), .. _sent];
    }

    private string Id(PlannedFile file) => _ids.Free($"file-{Inside(file.Path)}", '~');

    private string Inside(string path) => path[(_plan.Root.Length + 1)..];

    private static string NameOf(PlannedFile file) => Path.GetFileNameWithoutExtension(file.Path);
}
