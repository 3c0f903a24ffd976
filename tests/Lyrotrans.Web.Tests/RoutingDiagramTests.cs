using Lyrotrans.Core.Sessions;
using Lyrotrans.Web.Surveying;

namespace Lyrotrans.Web.Tests;

public class RoutingDiagramTests
{
    private static Track Audio(string id, string? output = null, params Send[] sends) => new() { Id = id, Name = id, Kind = TrackKind.Audio, Channels = 1, Output = output, Sends = [.. sends] };

    private static Track Way(string id, TrackKind kind, string? output = null, params Send[] sends) => new() { Id = id, Name = id, Kind = kind, Channels = 2, Output = output, Sends = [.. sends] };

    private static RoutingDiagram Of(params Track[] tracks) => RoutingDiagram.Of(new Session { Name = "S", Tracks = [.. tracks] });

    [Fact]
    public void Every_output_and_send_is_a_way_from_left_to_right()
    {
        var diagram = Of(Audio("a", "bus", new Send("hall", -6)), Audio("b", null, new Send("hall", -9), new Send("echo", -12)), Way("bus", TrackKind.Bus, "sum"), Way("sum", TrackKind.Bus), Way("hall", TrackKind.Return), Way("echo", TrackKind.Return), Way("m", TrackKind.Master));
        var nodes = diagram.Nodes.ToDictionary(n => n.Id);
        Assert.Equal(7, nodes.Count);
        Assert.Equal(6 + 3, diagram.Ways.Count);
        Assert.All(diagram.Ways, w => Assert.True(nodes[w.From].X < nodes[w.To].X, $"{w.From} to {w.To}"));
        Assert.Equal(["−6.0 dB", "−9.0 dB", "−12.0 dB"], diagram.Ways.Where(w => w.IsSend).Select(w => w.Words));
        Assert.Equal(nodes["sum"].X, nodes["hall"].X);
        Assert.True(nodes["bus"].X < nodes["sum"].X);
    }

    [Fact]
    public void No_two_tracks_and_no_two_levels_lie_on_each_other()
    {
        var random = new Random(3);
        var returns = Enumerable.Range(0, 12).Select(i => Way($"r{i}", i % 3 == 0 ? TrackKind.Bus : TrackKind.Return)).ToList();
        Track Source(int i) => Audio($"t{i}", null, [.. returns.OrderBy(_ => random.Next()).Take(random.Next(5)).Select(r => new Send(r.Id, -random.Next(20)))]);
        var diagram = Of([.. Enumerable.Range(0, 200).Select(Source), .. returns]);
        Assert.Equal(213, diagram.Nodes.Count);
        foreach (var column in diagram.Nodes.GroupBy(n => n.X))
        {
            var places = column.Select(n => n.Y).Order().ToList();
            Assert.All(places.Zip(places.Skip(1)), p => Assert.True(p.Second - p.First >= RoutingDiagram.NodeHeight));
        }

        Assert.All(diagram.Ways.Where(w => w.IsSend).GroupBy(w => w.From), g => Assert.Equal(g.Count(), g.Select(w => w.LabelY).Distinct().Count()));
        Assert.All(diagram.Nodes, n => Assert.InRange(n.X + RoutingDiagram.NodeWidth, 0, diagram.Width));
        Assert.All(diagram.Nodes, n => Assert.InRange(n.Y + RoutingDiagram.NodeHeight, 0, diagram.Height));
    }

    [Fact]
    public void A_circle_is_drawn_and_ends()
    {
        var diagram = Of(Audio("a", "x"), Way("x", TrackKind.Bus, "y"), Way("y", TrackKind.Bus, "x"), Way("z", TrackKind.Bus, null, new Send("z", 0)));
        Assert.Equal(5, diagram.Nodes.Count);
        Assert.Contains(diagram.Ways, w => w is { From: "y", To: "x" });
    }

    [Fact]
    public void What_does_not_sound_is_there_and_off()
    {
        var diagram = Of(Audio("a") with { State = TrackState.Muted }, Audio("b"));
        Assert.Equal(["a"], diagram.Ways.Where(w => w.IsOff).Select(w => w.From));
    }
}
