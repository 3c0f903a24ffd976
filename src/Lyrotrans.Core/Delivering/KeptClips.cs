using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>
/// The clips of a session over the media that go with them. A clip is what it is in the session, only its medium and its place in it are those of the package; where its gain or fades became part of the sound, it has none of
/// its own. What no medium of the package holds keeps its medium, which is missing there.
/// </summary>
internal sealed class KeptClips(DeliveryPlan plan)
{
    private readonly Session _session = plan.Session;
    private readonly Dictionary<string, Media> _own = plan.Session.Media.ToDictionary(m => m.Id);
    private readonly Dictionary<string, Media> _sent = [];
    private readonly TakenNames _ids = new TakenNames().Taking(plan.Session.Media.Select(m => m.Id));

    private readonly TakenNames _tracks = new TakenNames().Taking(plan.Session.Tracks.Select(t => t.Id));

    // A file of clips of another rate counts in other samples than the document.
    private readonly List<ClipMedia> _plain = plan.Clips is { } clips && clips.Session.Rate == plan.Session.Rate ? [.. clips.Media.Where(m => !m.IsMissing)] : [];

    /// <summary>The media of the package that its clips use, as the document says them.</summary>
    public IEnumerable<Media> Media => _sent.Values;

    /// <summary>The track over the package's media; where these have one channel each and it has several, it is muted and a track for each channel lies beside it.</summary>
    public IEnumerable<Track> Of(Track track)
    {
        if (track.Sounding is not { } lane)
        {
            return [track];
        }

        var whole = Over(lane.Clips);
        if (track.Channels < 2 || !whole.Any(c => _own.ContainsKey(c.Media) && !_own[c.Media].IsAbsent && !_sent.ContainsKey(c.Media)))
        {
            return [track with { Lanes = track.Lanes.Select((l, i) => i == track.SoundingLane ? lane with { Clips = whole } : l).ToValueArray() }];
        }

        return ChannelTracks.Of(track, [.. Enumerable.Range(0, track.Channels).Select(c => lane with { Clips = Over([.. lane.Clips.Select(clip => clip with { Id = FormattableString.Invariant($"{clip.Id}~{c + 1}"), ChannelMap = [clip.ChannelMap[c]] })]) })], _tracks);
    }

    private ValueArray<Clip> Over(ValueArray<Clip> clips)
    {
        var (over, made) = (new List<Clip>(), new HashSet<string>());
        foreach (var clip in clips)
        {
            if (_plain.Select(m => InOwn(clip, m)).FirstOrDefault(c => c is not null) is { } same)
            {
                over.Add(same);
            }
            else if (_plain.Find(m => IsIn(clip, m)) is { } medium)
            {
                // Of clips that were made one sound, the first stands for all.
                over.AddRange(made.Add(medium.Media.Id) ? [Made([.. clips.Where(c => IsIn(c, medium))], medium)] : []);
            }
            else
            {
                over.Add(clip);
            }
        }

        return [.. over];
    }

    // Over a medium with the sound as it is: whole, or the part that clips need.
    private Clip? InOwn(Clip clip, ClipMedia medium)
    {
        if (medium.IsMade || medium.Sound.Lanes[0].Clips is not [var whole] || whole.Media != clip.Media)
        {
            return null;
        }

        var offset = OffsetIn(clip, whole.SourceOffset);
        var channels = whole.ChannelMap.ToList();
        ValueArray<int> map = [.. clip.ChannelMap.Select(c => channels.IndexOf(c))];
        return offset is { } at && map.All(c => c >= 0) && at >= medium.Range.Start && at + clip.Length <= medium.Range.End
            ? clip with { Media = IdOf(medium), ChannelMap = map, SourceOffset = at - medium.Range.Start }
            : null;
    }

    // In session samples from the medium's phase, as it was converted; null where that was another.
    private long? OffsetIn(Clip clip, long phase)
    {
        var grid = new RateGrid(_own[clip.Media].Rate, _session.Rate);
        var (own, place) = grid.Anchor(clip.SourceOffset, clip.SourcePart);
        return own == phase ? place : phase == 0 ? grid.Exact(clip.SourceOffset).RoundToEven() : null;
    }

    private bool IsIn(Clip clip, ClipMedia medium) => medium.IsMade && medium.Sound.Lanes[0].Clips.Any(c => c.Media == clip.Media && c.ChannelMap == clip.ChannelMap && c.Start <= clip.Start && c.End >= clip.End && IsSameSound(c, clip));

    // The longer one has the other's first sample where that lies; places at other rates go to the nearest.
    private bool IsSameSound(Clip longer, Clip clip) =>
        Math.Abs(longer.SourceOffset + _session.Rate.Convert(clip.Start - longer.Start, _own[clip.Media].Rate) - clip.SourceOffset) <= (_own[clip.Media].Rate == _session.Rate ? 0 : 1);

    private Clip Made(List<Clip> clips, ClipMedia medium) => clips[0] with
    {
        Media = IdOf(medium),
        ChannelMap = [.. Enumerable.Range(0, medium.Media.Channels)],
        Length = clips.Max(c => c.End) - clips[0].Start,
        SourceOffset = clips[0].Start - medium.Range.Start,
        GainDb = 0,
        GainCurve = null,
        FadeIn = Fade.None,
        FadeOut = Fade.None,
    };

    private string IdOf(ClipMedia medium)
    {
        if (!_sent.TryGetValue(medium.Media.Id, out var sent))
        {
            // Its identifier in the file of clips is known to whoever reads that.
            // A medium that goes whole is the session's own, and has its identifier.
            var id = _own.ContainsKey(medium.Media.Id) ? medium.Media.Id : _ids.Free($"media-{medium.Media.FileName}", '~');
            _sent[medium.Media.Id] = sent = medium.Media with { Id = id, FileName = PlaceOf(medium), Place = plan.Preparation.Clips.MediaForm.IsBeside() ? MediaPlace.Beside : MediaPlace.Embedded, Identifiers = [medium.Media.Id] };
        }

        return sent.Id;
    }

    private string PlaceOf(ClipMedia medium)
    {
        var file = plan.Files.FirstOrDefault(f => f.Kind == PlannedKind.ClipMedia && f.MediaId == medium.Media.Id);
        var path = file?.Path ?? plan.Files.First(f => f.Kind == PlannedKind.ClipFile && plan.ClipFiles[f.Part].Media.Any(m => m.Media.Id == medium.Media.Id)).Path;
        var inside = path[(plan.Root.Length + 1)..];
        return file is null ? MediaNames.FolderInside(inside) + medium.Media.FileName : inside;
    }
}
