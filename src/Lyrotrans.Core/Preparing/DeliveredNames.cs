using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>What the tracks that go are called where they arrive.</summary>
public static class DeliveredNames
{
    /// <summary>By track id, without extension; unique and legal everywhere.</summary>
    public static IReadOnlyDictionary<string, string> Of(Session session, Preparation preparation)
    {
        var texts = Texts(session, preparation);
        return LegalName.Unique(texts.Values.Select(LegalName.From)).Zip(texts.Keys).ToDictionary(p => p.Second, p => p.First);
    }

    /// <summary>The same as words, where no file system restrains them.</summary>
    public static IReadOnlyDictionary<string, string> Texts(Session session, Preparation preparation)
    {
        var tracks = session.Tracks.ToDictionary(t => t.Id);
        var going = preparation.Tracks.Where(c => c.Treatment != Treatment.HoldBack && tracks.ContainsKey(c.TrackId)).ToList();
        var digits = going.Count > 99 ? 3 : 2;
        return going.Select((choice, i) => (choice.TrackId, Text: NamePattern.Fill(preparation.NamePattern, i + 1, digits, choice.Name ?? tracks[choice.TrackId].Name, session.Name)))
            .ToDictionary(p => p.TrackId, p => p.Text);
    }
}
