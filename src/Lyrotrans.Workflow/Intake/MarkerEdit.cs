using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A marker that the engineer set, moved, renamed or took away.</summary>
/// <param name="Id">Of the marker; a new one has one of its own.</param>
/// <param name="Marker">As it is from then on; null takes it away.</param>
/// <param name="AfterMaps">How many edited maps were in force then: what moves the markers later moves this one too.</param>
public sealed record MarkerEdit(string Id, Marker? Marker, int AfterMaps)
{
    /// <summary>The session with it. What it was of may be gone, since sources come and go: a marker that is nowhere else is as the engineer left it.</summary>
    public Session ApplyTo(Session session)
    {
        var rest = session.Markers.Where(m => m.Id != Id);
        return session with { Markers = [.. (Marker is null ? rest : rest.Append(Marker)).OrderBy(m => m.Sample)] };
    }
}
