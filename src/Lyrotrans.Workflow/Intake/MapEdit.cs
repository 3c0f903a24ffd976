using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.OpenSession;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A map that the engineer made, put over whatever the sources said. Kept as an open session document that holds nothing else.</summary>
public sealed record MapEdit(string Document, Anchors Anchors)
{
    /// <summary>The edit that puts a map under a session as it is now.</summary>
    public static MapEdit Of(Session session, MusicMap map, Anchors anchors)
    {
        var bare = new Session
        {
            Name = "map",
            Rate = session.Rate,
            Start = session.Start,
            Tempo = map.Tempo,
            Meters = map.Meters,
            Keys = map.Keys,
            Bar1Sample = map.Bar1Sample,
        };
        return new MapEdit(System.Text.Encoding.UTF8.GetString(SessionDocumentWriter.Write(bare)), anchors);
    }

    /// <summary>The session over this map.</summary>
    public Session ApplyTo(Session session)
    {
        using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(Document));
        return MapChange.Apply(session, MusicMap.Of(SessionDocumentReader.Read(stream, "the edited map")), Anchors);
    }
}
