using System.Globalization;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>One thing that sources say of the music, source by source.</summary>
public sealed record MapRow(string Name, IReadOnlyList<string> Said)
{
    public bool Differs => Said.Distinct().Count() > 1;

    public static IReadOnlyList<MapRow> Of(IReadOnlyList<MapSource> sources, Session session) =>
    [
        new("tempo", [.. sources.Select(s => Tempo(s))]),
        new("tempo changes", [.. sources.Select(s => Digits.Grouped(s.Map.Tempo.Points.Count - 1))]),
        new("meters", [.. sources.Select(s => string.Join(", ", s.Map.Meters.Changes.Take(4).Select(m => $"{m} from bar {m.Bar}")) + (s.Map.Meters.Changes.Count > 4 ? " …" : string.Empty))]),
        new("bar 1 at sample", [.. sources.Select(s => Digits.Grouped(s.Map.Bar1Sample))]),
        new("bar 9 at sample", [.. sources.Select(s => Digits.Grouped(s.Map.ClockAt(session.Rate).SampleAt(s.Map.Meters.StartOfBar(9))))]),
        new("keys", [.. sources.Select(s => s.Map.Keys.Count == 0 ? "none" : string.Join(", ", s.Map.Keys.Take(4).Select(k => k.Name)))]),
        new("markers", [.. sources.Select(s => Digits.Grouped(s.Markers.Count))]),
        new("says it starts at", [.. sources.Select(s => s.Start is { } start ? session.TimecodeScale.At(start).ToString() : "–")]),
    ];

    private static string Tempo(MapSource source)
    {
        var tempos = source.Map.Tempo.Points.Select(p => p.QuartersPerMinute.ToDouble()).ToList();
        return tempos.Max() - tempos.Min() < 0.005
            ? tempos[0].ToString("0.###", CultureInfo.InvariantCulture)
            : string.Create(CultureInfo.InvariantCulture, $"{tempos.Min():0.##} to {tempos.Max():0.##}");
    }
}
