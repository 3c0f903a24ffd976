using System.Globalization;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Web.Surveying;

/// <summary>The ways of the sound as a drawing: what sounds by itself on the left, the master on the right, buses and returns between them by how far they are from it. In pixels.</summary>
public sealed record RoutingDiagram(IReadOnlyList<RoutingDiagram.Node> Nodes, IReadOnlyList<RoutingDiagram.Way> Ways, int Width, int Height)
{
    /// <summary>How wide and high a node is.</summary>
    public const int NodeWidth = 190;

    /// <summary>How high a node is.</summary>
    public const int NodeHeight = 24;

    private const int Row = 30;
    private const int Column = 330;
    private const int Edge = 14;
    private const int LabelWidth = 58;
    private const int Line = 13;

    /// <summary>A track.</summary>
    public sealed record Node(string Id, string Name, string Level, string Kind, int X, int Y, bool IsOff);

    /// <summary>From one track to another: by its output, or a send with its level.</summary>
    public sealed record Way(string From, string To, string Path, string Words, int LabelX, int LabelY, bool IsSend, bool IsOff);

    /// <summary>Of all tracks that have a way.</summary>
    public static RoutingDiagram Of(Session session)
    {
        var tracks = session.Tracks.Where(t => t.Kind is not TrackKind.Picture and not TrackKind.Master && !t.Kind.HasRole()).ToList();
        var master = session.Tracks.FirstOrDefault(t => t.Kind == TrackKind.Master) ?? SignalPaths.Of(session).Master;
        var far = Distances(tracks, master);
        var columns = far.Values.DefaultIfEmpty(1).Max() + 1;
        var order = session.Tracks.Select((t, i) => (t.Id, i)).ToDictionary(t => t.Id, t => t.i);
        int ColumnOf(Track track) => track.Id == master.Id ? columns : track.Kind.IsSource() ? 0 : columns - far[track.Id];

        // What feeds the same thing lies together, in the order of the session, so that lines cross little.
        var places = new Dictionary<string, int>();
        var next = Edge;
        foreach (var track in tracks.Where(t => t.Kind.IsSource()).OrderBy(t => order.GetValueOrDefault(t.Output ?? master.Id, int.MaxValue)).ThenBy(t => order[t.Id]))
        {
            places[track.Id] = next;
            next += HeightOf(track);
        }

        foreach (var column in tracks.Where(t => !t.Kind.IsSource()).Append(master).GroupBy(ColumnOf).OrderBy(g => g.Key))
        {
            Stack(column.Select(t => (t.Id, Middle(t, tracks, places, master), HeightOf(t))), places);
        }

        var nodes = tracks.Append(master).Select(t => new Node(
            t.Id, t.Name, t.FaderAutomation is null ? $"{Decibels.Words(t.FaderDb)} dB" : "rides", t.Kind.Words(), Edge + (ColumnOf(t) * Column), places[t.Id], t.State != TrackState.Active)).ToList();
        var byId = nodes.ToDictionary(n => n.Id);
        var ways = tracks.SelectMany(t => From(t, byId, master)).ToList();
        return new RoutingDiagram(nodes, ways, (columns * Column) + NodeWidth + (2 * Edge), tracks.Append(master).Max(t => places[t.Id] + HeightOf(t)) + Edge);
    }

    /// <summary>How many ways lie between a bus or return and the master, at most; a circle counts once.</summary>
    private static Dictionary<string, int> Distances(List<Track> tracks, Track master)
    {
        var ways = tracks.Where(t => !t.Kind.IsSource()).ToDictionary(t => t.Id);
        var far = new Dictionary<string, int>();
        int Far(string id, HashSet<string> met)
        {
            if (id == master.Id || !ways.TryGetValue(id, out var track) || !met.Add(id))
            {
                return 0;
            }

            var known = far.TryGetValue(id, out var before) ? before : far[id] = 1 + track.Sends.Select(s => s.Target).Append(track.Output ?? master.Id).Max(to => Far(to, met));
            met.Remove(id);
            return known;
        }

        foreach (var id in ways.Keys)
        {
            Far(id, []);
        }

        return far;
    }

    private static double Middle(Track track, List<Track> tracks, Dictionary<string, int> places, Track master) =>
        tracks.Where(t => places.ContainsKey(t.Id) && (t.Sends.Any(s => s.Target == track.Id) || (t.Output ?? master.Id) == track.Id)).Select(t => (double)places[t.Id]).DefaultIfEmpty(Edge).Average();

    private static void Stack(IEnumerable<(string Id, double Wanted, int Height)> column, Dictionary<string, int> places)
    {
        var free = Edge;
        foreach (var (id, wanted, height) in column.OrderBy(c => c.Wanted))
        {
            places[id] = Math.Max(free, (int)wanted);
            free = places[id] + Row + height;
        }
    }

    private static IEnumerable<Way> From(Track track, Dictionary<string, Node> nodes, Track master)
    {
        var from = nodes[track.Id];
        if (nodes.TryGetValue(track.Output ?? master.Id, out var output))
        {
            yield return Between(from, output, string.Empty, 0, isSend: false);
        }

        foreach (var (send, i) in track.Sends.Select((s, i) => (s, i)).Where(s => nodes.ContainsKey(s.s.Target)))
        {
            yield return Between(from, nodes[send.Target], $"{Decibels.Words(send.LevelDb)} dB", i, isSend: true);
        }
    }

    // The levels of sends stand below each other.
    private static int HeightOf(Track track) => Math.Max(Row, 20 + (Line * track.Sends.Count));

    // The output leaves on top; a send below it, where its level ends.
    private static Way Between(Node from, Node to, string words, int label, bool isSend)
    {
        var (x0, y0) = isSend ? (from.X + NodeWidth + LabelWidth, from.Y + 16 + (label * Line)) : (from.X + NodeWidth, from.Y + 5);
        var (x1, y1) = (to.X, to.Y + (isSend ? NodeHeight - 6 : 5));
        var reach = Math.Max(40, Math.Abs(x1 - x0) / 2);
        var path = string.Create(CultureInfo.InvariantCulture, $"M{x0} {y0} C{x0 + reach} {y0} {x1 - reach} {y1} {x1} {y1}");
        return new Way(from.Id, to.Id, path, words, from.X + NodeWidth + 5, y0 + 4, isSend, from.IsOff || to.IsOff);
    }
}
