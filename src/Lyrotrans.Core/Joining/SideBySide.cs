using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Joining;

/// <summary>Two sessions as one: tracks side by side, the same medium once, one master. The first one's rate, start, map and depth hold.</summary>
public static class SideBySide
{
    /// <param name="first">What leads.</param>
    /// <param name="second">What lies beside it, at its own rate.</param>
    /// <param name="by">The sample of the first at which the second's sample 0 lies.</param>
    /// <param name="mark">What identifiers of the second begin with where the first has the same ones; unlike any in the first.</param>
    public static Session Join(Session first, Session second, long by, string mark)
    {
        // What it says lies where it sounded, whatever the first one's bars are.
        var moved = MapChange.Apply(SessionMove.Of(second, first.Rate, by), MusicMap.Of(first), new Anchors(Anchor.Samples, Anchor.Samples, Anchor.Samples));
        var media = MediaIds(first, moved, mark);
        var master = first.Tracks.FirstOrDefault(t => t.Kind == TrackKind.Master)?.Id;
        var tracks = TrackIds(first, moved, master, mark);
        var added = moved.Tracks.Where(t => t.Kind != TrackKind.Master || master is null).Select(t => Renamed(t, tracks, media, mark)).ToList();
        var known = first.Media.Select(m => m.Id).ToHashSet();
        return first with
        {
            Media = [.. first.Media, .. moved.Media.Select(m => m with { Id = media[m.Id] }).Where(m => known.Add(m.Id))],
            Tracks = [.. first.Tracks, .. added],
            Comments = [.. first.Comments, .. moved.Comments.Where(c => !first.Comments.Contains(c))],
            Picture = first.Picture ?? second.Picture,
        };
    }

    /// <summary>Whether most of the second's tracks are not in the first: another part of the session, and no other export of the same.</summary>
    public static bool IsOther(Session first, Session second)
    {
        var names = first.Tracks.Select(t => t.Name).ToHashSet(SameName.Comparer);
        var tracks = second.Tracks.Where(t => t.Kind.IsSource()).ToList();
        return tracks.Count(t => names.Contains(t.Name)) * 2 < tracks.Count;
    }

    /// <summary>What of the second is lost or decided by joining, each in words; none where nothing is.</summary>
    public static IEnumerable<string> Gives(Session first, Session second)
    {
        if (second.Rate != first.Rate)
        {
            var between = SessionMove.BetweenSamples(second, first.Rate);
            yield return $"its {second.Rate} becomes {first.Rate}{(between > 0 ? $", and {between} of its clips begin between two samples and go to the nearest" : string.Empty)}";
        }

        if (second.FrameRate != first.FrameRate)
        {
            yield return $"it counts {second.FrameRate} frames a second and the session {first.FrameRate}: its start is taken in real time";
        }

        if (second.PanLaw != first.PanLaw && second.Tracks.Any(t => t.Pan != 0 || t.PanAutomation is not null))
        {
            yield return $"its pan law is {second.PanLaw.Words()} and the session's {first.PanLaw.Words()}, which holds";
        }

        var masters = new[] { first, second }.Select(s => s.Tracks.FirstOrDefault(t => t.Kind == TrackKind.Master)).ToList();
        if (masters[0] is not null && masters[1] is { } other && (other.Inserts.Count > 0 || other.FaderDb != 0 || other.FaderAutomation is not null))
        {
            yield return $"its master {other.Name} has a fader or effects of its own, which are left out";
        }

        if (first.Picture is { } picture && second.Picture is { } another && picture.FileName != another.FileName)
        {
            yield return $"it names the picture {another.FileName} and the session {picture.FileName}, which holds";
        }
    }

    // The same identifier and the same sound, or the same file, is one medium.
    private static Dictionary<string, string> MediaIds(Session first, Session second, string mark)
    {
        var byId = first.Media.ToDictionary(m => m.Id);
        var byHash = first.Media.Where(m => m.Sha256 is not null).DistinctBy(m => (m.Sha256, m.Rate)).ToDictionary(m => (m.Sha256, m.Rate), m => m.Id);
        return second.Media.ToDictionary(m => m.Id, m =>
            byId.TryGetValue(m.Id, out var same) && (same.Sha256, same.Rate, same.Channels, same.Length) == (m.Sha256, m.Rate, m.Channels, m.Length) ? m.Id
            : m.Sha256 is not null && byHash.TryGetValue((m.Sha256, m.Rate), out var held) ? held
            : byId.ContainsKey(m.Id) ? mark + m.Id : m.Id);
    }

    private static Dictionary<string, string> TrackIds(Session first, Session second, string? master, string mark)
    {
        var taken = first.Tracks.Select(t => t.Id).ToHashSet();
        return second.Tracks.ToDictionary(t => t.Id, t => t.Kind == TrackKind.Master && master is not null ? master : taken.Contains(t.Id) ? mark + t.Id : t.Id);
    }

    private static Track Renamed(Track track, Dictionary<string, string> tracks, Dictionary<string, string> media, string mark) => track with
    {
        Id = tracks[track.Id],
        Of = [.. track.Of.Select(o => tracks.GetValueOrDefault(o, o))],
        Output = track.Output is { } output ? tracks.GetValueOrDefault(output, output) : null,
        Sends = [.. track.Sends.Select(s => s with { Target = tracks.GetValueOrDefault(s.Target, s.Target) })],
        Lanes = [.. track.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => c with { Id = mark + c.Id, Media = media[c.Media] })] })],
        Parts = [.. track.Parts.Select(p => p with { Id = mark + p.Id })],
    };
}
