using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Pairing;

/// <summary>
/// Finds mono tracks that are the channels of one sound: by the channels of one file, by names, by equal edits, by the lengths of their media, by pans, by
/// their places beside each other, and, where the sound is at hand, by how alike it is.
/// </summary>
public sealed class PairFinder
{
    private const int Least = 40;
    private readonly Session _session;
    private readonly Dictionary<string, Media> _media;
    private readonly Func<Track, Track, double?> _likeness;
    private readonly List<Track> _mono;

    private PairFinder(Session session, Func<Track, Track, double?> likeness)
    {
        _session = session;
        _likeness = likeness;
        _media = session.Media.ToDictionary(m => m.Id);
        _mono = session.Tracks.Where(t => t is { Kind: TrackKind.Audio, Channels: 1 } && t.Sounding is { Clips.Count: > 0 }).ToList();
    }

    /// <param name="session">Its mono tracks are looked at.</param>
    /// <param name="likeness">The correlation of two tracks' sound from −1 to 1; null where it cannot be told.</param>
    /// <returns>The surest first.</returns>
    public static IReadOnlyList<TrackPair> Pairs(Session session, Func<Track, Track, double?>? likeness = null) =>
        new PairFinder(session, likeness ?? ((_, _) => null)).Found();

    private List<TrackPair> Found()
    {
        var pairs = OneFile().ToList();
        var taken = pairs.SelectMany(p => p.Tracks).ToHashSet();
        pairs.AddRange(ByName(taken));
        return [.. pairs.OrderByDescending(p => p.Confidence)];
    }

    /// <summary>Tracks with equal edits over different channels of the same files.</summary>
    private IEnumerable<TrackPair> OneFile()
    {
        foreach (var group in _mono.Where(t => _media[t.Sounding!.Clips[0].Media].Channels > 1).GroupBy(Edits))
        {
            var tracks = group.OrderBy(t => t.Sounding!.Clips[0].ChannelMap[0]).ToList();
            var channels = tracks.Select(t => t.Sounding!.Clips[0].ChannelMap[0]).ToList();
            if (tracks.Count > 1 && channels.Distinct().Count() == tracks.Count)
            {
                var name = SideName.Of(tracks[0].Name)?.Base ?? Path.GetFileNameWithoutExtension(_media[tracks[0].Sounding!.Clips[0].Media].FileName);
                yield return new TrackPair(
                    tracks.Select(t => t.Id).ToValueArray(), name, 100, [$"channels {string.Join(", ", channels.Select(c => c + 1))} of one file", "equal edits"], PairJoin.Hindrance(_session, tracks));
            }
        }
    }

    // Clips with their media, but without the channel.
    private static (string, ValueArray<(string, long, long, long)>) Edits(Track track) =>
        ("file", track.Sounding!.Clips.Select(c => (c.Media, c.Start, c.Length, c.SourceOffset)).ToValueArray());

    private IEnumerable<TrackPair> ByName(HashSet<string> taken)
    {
        var sides = _mono.Where(t => !taken.Contains(t.Id)).Select(t => (Track: t, Side: SideOf(t))).Where(p => p.Side is not null)
            .GroupBy(p => (p.Side!.Value.Base.ToUpperInvariant(), p.Side.Value.IsNumber));
        foreach (var group in sides)
        {
            var channels = group.GroupBy(p => p.Side!.Value.Channel).OrderBy(c => c.Key).ToList();

            // Numbers that do not begin at one, or go on past two, count tracks and not channels.
            if (channels is not [{ Key: 0 } first, { Key: 1 } second])
            {
                continue;
            }

            var rest = second.Select(p => p.Track).ToList();
            foreach (var left in first.Select(p => p.Track))
            {
                var best = rest.Select(right => Weigh(left, right, group.Key.IsNumber)).OrderByDescending(p => p.Confidence).FirstOrDefault();
                if (best is not null && best.Confidence >= Least)
                {
                    rest.RemoveAll(t => t.Id == best.Tracks[1]);
                    yield return best;
                }
            }
        }
    }

    private SideName? SideOf(Track track) => SideName.Of(track.Name) ?? SideName.Of(_media[track.Sounding!.Clips[0].Media].FileName);

    private TrackPair Weigh(Track left, Track right, bool byNumber)
    {
        var (weight, reasons) = (0, new List<string>());
        void For(int by, string what)
        {
            weight += by;
            reasons.Add(what);
        }

        For(byNumber ? 20 : 35, "names");
        var (a, b) = (left.Sounding!.Clips, right.Sounding!.Clips);
        if (a.Select(c => (c.Start, c.Length, c.SourceOffset)).SequenceEqual(b.Select(c => (c.Start, c.Length, c.SourceOffset))))
        {
            For(35, "equal edits");
        }
        else if (a.Select(c => (c.Start, c.Length)).SequenceEqual(b.Select(c => (c.Start, c.Length))))
        {
            For(15, "equal places");
        }

        if (a.Select(c => _media[c.Media].Length).SequenceEqual(b.Select(c => _media[c.Media].Length)))
        {
            For(15, "media of equal length");
        }

        if (left.Pan <= -0.99 && right.Pan >= 0.99)
        {
            For(20, "panned left and right");
        }

        if (Math.Abs(IndexOf(left) - IndexOf(right)) == 1)
        {
            For(5, "side by side");
        }

        if (_likeness(left, right) is { } alike && Math.Abs(alike) > 0.2)
        {
            For(10, alike > 0.999_999 ? "the same sound on both sides: mono inside" : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"sound alike, {alike:0.00}"));
        }

        return new TrackPair([left.Id, right.Id], SideOf(left)!.Value.Base, Math.Min(99, weight), reasons.ToValueArray(), PairJoin.Hindrance(_session, [left, right]));
    }

    private int IndexOf(Track track)
    {
        for (var i = 0; i < _session.Tracks.Count; i++)
        {
            if (_session.Tracks[i].Id == track.Id)
            {
                return i;
            }
        }

        return -1;
    }
}
