using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A marker that the engineer set, moved, renamed or took away.</summary>
/// <param name="Id">Of the marker; a new one has one of its own.</param>
/// <param name="Marker">As it is from then on; null takes it away.</param>
/// <param name="AfterMaps">How many edited maps were in force then: what moves the markers later moves this one too.</param>
/// <param name="Was">As it was; null for a new one.</param>
public sealed record MarkerEdit(string Id, Marker? Marker, int AfterMaps, Marker? Was = null)
{
    /// <summary>
    /// The session with it. Sources come and go, and number their markers anew: the one that is meant is called as it was. Where it is gone, a changed marker is as the engineer left it,
    /// and nothing is taken away.
    /// </summary>
    public Session ApplyTo(Session session)
    {
        var old = Was is null ? null
            : session.Markers.FirstOrDefault(m => m.Id == Id && m.Text == Was.Text) ?? session.Markers.FirstOrDefault(m => m.Text == Was.Text && m.Sample == Was.Sample);
        var rest = session.Markers.Where(m => m != old).ToList();
        var made = Marker is { } marker ? marker with { Id = old?.Id ?? new Core.Naming.TakenNames().Taking(rest.Select(m => m.Id)).Free(Id, '-') } : null;
        return session with { Markers = [.. (made is null ? rest : rest.Append(made)).OrderBy(m => m.Sample)] };
    }
}
