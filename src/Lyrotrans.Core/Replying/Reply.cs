using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Replying;

/// <summary>
/// What goes back to the room that sent a package: only what was added here, from the same zero, and numbered on from where the package's numbers end, so that nothing there has its number. What came in the package does not go
/// again; nor do a mix, stems, a click or the picture, unless they are chosen anew.
/// </summary>
public static class Reply
{
    /// <summary>The preparation of a reply; null where nothing was added that could go.</summary>
    /// <param name="session">The package's, and what was added.</param>
    /// <param name="preparation">How it is prepared now.</param>
    /// <param name="came">Ids of the tracks that came in the package.</param>
    /// <param name="manifest">SHA-256 of the package's manifest.</param>
    /// <param name="start">The session sample that its files begin at.</param>
    /// <param name="numbers">How far its names are numbered.</param>
    public static Preparation? Of(Session session, Preparation preparation, IReadOnlySet<string> came, string manifest, long start, int numbers)
    {
        var rows = preparation.For(session).Tracks.Select(c => came.Contains(c.TrackId) ? c with { Treatment = Treatment.HoldBack, Beneath = [], Spares = false, Marked = false } : c).ToValueArray();
        if (rows.All(c => c.Treatment == Treatment.HoldBack))
        {
            return null;
        }

        var reply = preparation with
        {
            Tracks = rows,
            From = start == 0 ? RangeStart.SessionStart : RangeStart.Chosen,
            ChosenStart = start,
            ChosenEnd = null,
            EndTail = 0,
            Kinds = new KindChoices(),
            Mix = new MixChoices { Sounding = preparation.Mix.Sounding },
            Click = new ClickChoices(),
            Picture = new PictureChoices(),
            ReplyTo = manifest,
        };
        return reply with { NamePattern = NamePattern.Track, Tracks = Numbered(session, reply, numbers, preparation.ReplyTo == manifest) };
    }

    // By the pattern that the receiver has, with numbers that begin later than it knows. What has its number from before keeps it, and what came since is numbered on, by the usual pattern if those have numbers.
    private static ValueArray<TrackChoice> Numbered(Session session, Preparation reply, int numbers, bool again)
    {
        var (all, rows) = BeneathTracks.Of(session, reply);
        var cleaned = DeliveredNames.Cleaned(all, rows);
        var last = again ? rows.Tracks.Where(c => cleaned.ContainsKey(c.TrackId)).Select(c => NamePattern.NumberOf(c.Name ?? string.Empty)).DefaultIfEmpty(0).Max() : 0;
        var (pattern, number, names) = (last > 0 ? NamePattern.Usual : reply.NamePattern, Math.Max(numbers, last), new Dictionary<string, string>());
        foreach (var row in rows.Tracks.Where(c => cleaned.ContainsKey(c.TrackId) && !(again && c.Name is not null)))
        {
            names[row.TrackId] = LegalName.From(NamePattern.Fill(pattern, DeliveredNames.Fields(all, rows, row, ++number, row.Name ?? cleaned[row.TrackId])));
        }

        return reply.Tracks.Select(c => BeneathTracks.Named(c, names)).ToValueArray();
    }
}
