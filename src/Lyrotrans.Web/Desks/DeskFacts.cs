using System.Globalization;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Web.Desks;

/// <summary>The facts strip: name and value, in the order shown.</summary>
public static class DeskFacts
{
    public static IReadOnlyList<(string Name, string Value)> Of(Session session)
    {
        var tempos = session.Tempo.Points.Select(p => p.QuartersPerMinute.ToDouble()).ToList();
        var meters = session.Meters.Changes.Select(m => m.ToString()).Distinct().ToList();
        return
        [
            ("rate", $"{Digits.Grouped(session.Rate.HeaderHz)} Hz"),
            ("depth", session.Depth.Words()),
            ("frames", session.FrameRate.Name),
            ("starts", session.Start.ToString()),
            ("length, samples", Digits.Grouped(session.EndSample)),
            ("tracks", session.Tracks.Count.ToString(CultureInfo.InvariantCulture)),
            ("clips", Digits.Grouped(session.Tracks.Sum(t => t.Lanes.Sum(l => l.Clips.Count)))),
            ("tempo", tempos.Min() == tempos.Max() ? Number(tempos[0]) : $"{Number(tempos.Min())}–{Number(tempos.Max())}"),
            ("meter", meters.Count > 2 ? $"{meters[0]} and {meters.Count - 1} more" : string.Join(" ", meters)),
        ];
    }

    private static string Number(double value) => value.ToString("0.##", CultureInfo.InvariantCulture);
}
