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
internal sealed class KeptClips
{
    private readonly DeliveryPlan _plan;
    private readonly Session _session;
    private readonly Dictionary<string, Media> _own;
    private readonly Dictionary<string, Media> _sent = [];
    private readonly TakenNames _ids;
    private readonly TakenNames _tracks;
    private readonly Dictionary<string, List<HeldSound>> _held = [];
    private readonly Lazy<Dictionary<string, string>> _paths;

    /// <param name="plan">What goes.</param>
    public KeptClips(DeliveryPlan plan)
    {
        _plan = plan;
        _session = plan.Session;
        _own = _session.Media.ToDictionary(m => m.Id);
        _ids = new TakenNames().Taking(_own.Keys);
        _tracks = new TakenNames().Taking(_session.Tracks.Select(t => t.Id));
        _paths = new(Paths);

        // A file of clips of another rate counts in other samples than the document.
        var media = plan.Clips is { } clips && clips.Session.Rate == plan.Session.Rate ? clips.Media.Where(m => !m.IsMissing) : [];
        foreach (var held in media.SelectMany(m => m.Sound.Lanes[0].Clips.Select(c => (Source: c.Media, Medium: m, Clip: c))).GroupBy(h => h.Source))
        {
            _held[held.Key] = [.. held.GroupBy(h => (h.Medium.IsMade, h.Clip.ChannelMap, Phase: h.Medium.IsMade ? 0 : h.Clip.SourceOffset)).Select(g => new HeldSound(g.Key.IsMade, g.Key.Phase, [.. g.Key.ChannelMap], g.Select(h => (h.Medium, h.Clip))))];
        }
    }

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
        if (track.Channels < 2 || !whole.Any(c => _own.TryGetValue(c.Media, out var own) && !own.IsAbsent && !_sent.ContainsKey(c.Media)))
        {
            return [track with { Lanes = track.Lanes.Select((l, i) => i == track.SoundingLane ? lane with { Clips = whole } : l).ToValueArray() }];
        }

        return ChannelTracks.Of(track, [.. Enumerable.Range(0, track.Channels).Select(c => lane with { Clips = Over([.. lane.Clips.Select(clip => clip with { Id = FormattableString.Invariant($"{clip.Id}~{c + 1}"), ChannelMap = [clip.ChannelMap[c]] })]) })], _tracks);
    }

    private ValueArray<Clip> Over(ValueArray<Clip> clips)
    {
        var (over, made) = (new List<Clip>(), new Dictionary<string, int>());
        foreach (var clip in clips)
        {
            if (InOwn(clip) is { } same)
            {
                over.Add(same);
            }
            else if (MadeOf(clip) is not { } medium)
            {
                over.Add(clip);
            }
            else if (made.TryGetValue(medium.Media.Id, out var place))
            {
                // Of clips that were made one sound, the first stands for all.
                over[place] = over[place] with { Length = Math.Max(over[place].End, clip.End) - over[place].Start };
            }
            else
            {
                made[medium.Media.Id] = over.Count;
                over.Add(Made(clip, medium));
            }
        }

        return [.. over];
    }

    // Over a medium with the sound as it is: whole, or the part that clips need.
    private Clip? InOwn(Clip clip)
    {
        foreach (var held in _held.GetValueOrDefault(clip.Media, []).Where(h => !h.IsMade))
        {
            if (held.MapOf(clip) is { } map && OffsetIn(clip, held.Phase) is { } at && held.Find(at, m => at >= m.Medium.Range.Start && at + clip.Length <= m.Medium.Range.End) is { } medium)
            {
                return clip with { Media = IdOf(medium), ChannelMap = map, SourceOffset = at - medium.Range.Start };
            }
        }

        return null;
    }

    private ClipMedia? MadeOf(Clip clip) => _held.GetValueOrDefault(clip.Media, []).Where(h => h.IsMade && h.Channels.SequenceEqual(clip.ChannelMap))
        .Select(h => h.Find(clip.Start, m => m.Clip.Start <= clip.Start && m.Clip.End >= clip.End && IsSameSound(m.Clip, clip))).FirstOrDefault(m => m is not null);

    // In session samples from the medium's phase, as it was converted; null where that was another.
    private long? OffsetIn(Clip clip, long phase)
    {
        var grid = new RateGrid(_own[clip.Media].Rate, _session.Rate);
        var (own, place) = grid.Anchor(clip.SourceOffset, clip.SourcePart);
        return own == phase ? place : phase == 0 ? grid.Exact(clip.SourceOffset).RoundToEven() : null;
    }

    // The longer one has the other's first sample where that lies; places at other rates go to the nearest.
    private bool IsSameSound(Clip longer, Clip clip) =>
        Math.Abs(longer.SourceOffset + _session.Rate.Convert(clip.Start - longer.Start, _own[clip.Media].Rate) - clip.SourceOffset) <= (_own[clip.Media].Rate == _session.Rate ? 0 : 1);

    private Clip Made(Clip clip, ClipMedia medium) => clip with
    {
        Media = IdOf(medium),
        ChannelMap = [.. Enumerable.Range(0, medium.Media.Channels)],
        SourceOffset = clip.Start - medium.Range.Start,
        GainDb = 0,
        GainCurve = null,
        FadeIn = Fade.None,
        FadeOut = Fade.None,
    };

    private string IdOf(ClipMedia medium)
    {
        if (!_sent.TryGetValue(medium.Media.Id, out var sent))
        {
            // A medium that goes whole is the session's own, and has its identifier.
            var id = _own.ContainsKey(medium.Media.Id) ? medium.Media.Id : _ids.Free($"media-{medium.Media.FileName}", '~');
            _sent[medium.Media.Id] = sent = medium.Media with { Id = id, FileName = _paths.Value[medium.Media.Id], Place = _plan.Preparation.Clips.MediaForm.IsBeside() ? MediaPlace.Beside : MediaPlace.Embedded, Identifiers = [medium.Media.Id] };
        }

        return sent.Id;
    }

    // Beside the file of clips, or inside one of several.
    private Dictionary<string, string> Paths()
    {
        string Inside(PlannedFile file) => file.Path[(_plan.Root.Length + 1)..];
        var inside = _plan.Files.Where(f => f.Kind == PlannedKind.ClipFile).SelectMany(f => _plan.ClipFiles[f.Part].Media.Select(m => (m.Media.Id, Path: MediaNames.FolderInside(Inside(f)) + m.Media.FileName)));
        var beside = _plan.Files.Where(f => f.Kind == PlannedKind.ClipMedia).Select(f => (Id: f.MediaId!, Path: Inside(f)));
        return beside.Concat(inside).DistinctBy(p => p.Id).ToDictionary(p => p.Id, p => p.Path);
    }

    /// <summary>The media of the package that hold one sound of the session in the same channels, by where they begin: a session may have thousands.</summary>
    private sealed class HeldSound
    {
        private readonly (ClipMedia Medium, Clip Clip)[] _media;
        private readonly long[] _starts;

        public HeldSound(bool isMade, long phase, List<int> channels, IEnumerable<(ClipMedia Medium, Clip Clip)> media)
        {
            (IsMade, Phase, Channels) = (isMade, phase, channels);
            _media = [.. media.OrderBy(Start)];
            _starts = [.. _media.Select(Start)];
            long Start((ClipMedia Medium, Clip Clip) m) => isMade ? m.Clip.Start : m.Medium.Range.Start;
        }

        public bool IsMade { get; }

        /// <summary>Of the medium's own grid, where it is of another rate.</summary>
        public long Phase { get; }

        public List<int> Channels { get; }

        /// <summary>Where the channels of a clip lie; null where one is not there.</summary>
        public ValueArray<int>? MapOf(Clip clip)
        {
            ValueArray<int> map = [.. clip.ChannelMap.Select(c => Channels.IndexOf(c))];
            return map.All(c => c >= 0) ? map : null;
        }

        /// <summary>The last that begins at a place or before and is right; null where none is.</summary>
        public ClipMedia? Find(long at, Func<(ClipMedia Medium, Clip Clip), bool> isRight)
        {
            var place = Array.BinarySearch(_starts, at);
            for (var i = place >= 0 ? LastOf(place) : ~place - 1; i >= 0; i--)
            {
                if (isRight(_media[i]))
                {
                    return _media[i].Medium;
                }
            }

            return null;
        }

        private int LastOf(int place)
        {
            while (place + 1 < _starts.Length && _starts[place + 1] == _starts[place])
            {
                place++;
            }

            return place;
        }
    }
}
