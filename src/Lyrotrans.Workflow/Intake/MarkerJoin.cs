using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Positions;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.MarkerList;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Puts the markers of several sources together; what two of them say alike is one marker.</summary>
public static class MarkerJoin
{
    /// <summary>The markers of both, ascending; one of the same text within a millisecond is the same.</summary>
    public static ValueArray<Marker> Together(Session session, IEnumerable<Marker> more)
    {
        var near = session.Rate.HeaderHz / 1000;
        var all = session.Markers.ToList();
        foreach (var marker in more)
        {
            if (all.FindIndex(m => m.Text == marker.Text && Math.Abs(m.Sample - marker.Sample) <= near) is >= 0 and var at)
            {
                all[at] = all[at] with { By = Known(all[at].By, marker.By), Date = Known(all[at].Date, marker.Date) };
            }
            else
            {
                all.Add(marker);
            }
        }

        var ids = new TakenNames();
        return all.OrderBy(m => m.Sample).Select(m => m with { Id = ids.Free(m.Id, '-') }).ToValueArray();
    }

    private static string Known(string first, string second) => first.Length > 0 ? first : second;

    /// <summary>The markers of a list, where its places can be understood.</summary>
    /// <param name="findings">Gets a line for each row that cannot.</param>
    public static IEnumerable<Marker> FromList(Session session, IEnumerable<MarkerRow> rows, string file, FindingList findings)
    {
        foreach (var row in rows)
        {
            var start = PositionText.Parse(session, row.Start.Kind, row.Start.Text);
            var end = row.End is null ? start : PositionText.Parse(session, row.End.Kind, row.End.Text);
            if (start is not { } from || end is not { } to || to < from)
            {
                var wrong = start is null ? row.Start : row.End ?? row.Start;
                var line = $"{file}, line {row.Line}";
                findings.Add(start is not null && end is not null
                    ? new Finding(MarkerListCodes.EndsBefore, line, $"{line}: \"{row.Text}\" ends before it begins; it was left out.")
                    : new Finding(MarkerListCodes.NoPlace, line, $"{line}: \"{wrong.Text}\" is no place in {wrong.Kind}; \"{row.Text}\" was left out."));
                continue;
            }

            yield return new Marker($"line-{row.Line}", row.Text, from, to - from) { By = row.By, Date = row.Date };
        }
    }
}
