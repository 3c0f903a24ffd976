using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class TrackSettingsTests
{
    [Fact]
    public void Everything_that_is_set_stands_there_with_its_unit_in_the_order_of_the_sound()
    {
        var session = Of(
            Track("Cello", Clip("1", 0, 100)) with
            {
                FaderDb = -3.5,
                FaderAutomation = new Automation([new AutomationPoint(0, -12), new AutomationPoint(10, 2)]),
                Pan = -0.3,
                Inverted = true,
                Output = "bus",
                Sends = [new Send("hall", -9, false, 0.5), new Send("gone", 0, true)],
                Inserts = [new Insert("drive and cabinet", [new Parameter("drive dB", 14), new Parameter("cabinet Hz", 3200)]), new Insert("glue", [], true)],
            },
            Track("Reel") with { Id = "reel", Kind = TrackKind.Picture },
            Track("Strings") with { Id = "bus", Kind = TrackKind.Bus },
            Track("Long hall") with { Id = "hall", Kind = TrackKind.Return },
            Track("Sum") with { Id = "master", Kind = TrackKind.Master });
        Assert.Equal(
            [
                "1 Cello polarity  inverted", "1 Cello effect 1 drive and cabinet drive dB 14; cabinet Hz 3200", "1 Cello effect 2 glue no values are known off",
                "1 Cello fader  −3.50 dB", "1 Cello rides  2 points, −12.00 to 2.00 dB", "1 Cello pan  30 % left", "1 Cello send Long hall −9.00 dB after the fader, 50 % right", "1 Cello send gone 0.00 dB before the fader",
                "1 Cello feeds  Strings", "3 Strings fader  0.00 dB", "3 Strings pan  centre", "3 Strings feeds  Sum", "4 Long hall fader  0.00 dB", "4 Long hall pan  centre", "4 Long hall feeds  Sum", "5 Sum fader  0.00 dB",
            ],
            TrackSettings.Of(session).Select(s => $"{s.Number} {s.Track} {s.What} {s.Of} {s.Value}{(s.IsOff ? " off" : "")}"));
    }
}
