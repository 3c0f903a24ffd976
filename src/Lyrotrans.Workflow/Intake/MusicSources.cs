using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>
/// What the sources say of the music: maps, of which one leads, and markers, of which all are taken unless one source was chosen.
/// </summary>
internal sealed class MusicSources(IntakeState state)
{
    private readonly List<MapSource> _maps = [];
    private readonly List<(string Item, Marker Marker)> _markers = [];
    private readonly List<(string Item, string Name)> _markerSources = [];

    /// <summary>Every source that says a map, in the order in which they would lead.</summary>
    public IReadOnlyList<MapSource> Maps => _maps;

    public IReadOnlyList<(string Item, string Name)> MarkerSources => _markerSources;

    /// <summary>The source that was decided on, or the first that says any map.</summary>
    public MapSource? Leader => _maps.Find(m => m.Item == state.MapFrom) ?? _maps.FirstOrDefault();

    public void Offer(MapSource source)
    {
        if (!source.Map.IsDefault)
        {
            _maps.Add(source);
        }

        OfferMarkers(source.Item, source.Name, source.Markers);
    }

    public void OfferMarkers(string item, string name, IReadOnlyCollection<Marker> markers)
    {
        if (markers.Count > 0)
        {
            _markers.AddRange(markers.Select(m => (item, m)));
            _markerSources.Add((item, name));
        }
    }

    /// <summary>Puts the leading map under a session.</summary>
    /// <param name="own">The item that made the session, whose map it has already.</param>
    /// <param name="findings">Gets a line where sources differ and nobody has decided.</param>
    public Session Mapped(Session session, string? own, FindingList findings)
    {
        if (Leader is not { } leader)
        {
            return session;
        }

        if (_maps.Exists(m => m.Map != leader.Map) && state.MapFrom is null && state.MapEdits.Count == 0)
        {
            findings.Add(IntakeCodes.MapsDiffer, string.Empty, $"Sources say different maps; {leader.Name} leads until you decide.");
        }

        return leader.Item == own ? session : MapChange.Apply(session, leader.Map, new Anchors()) with
        {
            Provenance = session.Provenance.Append(new Provenance(leader.Name, "tempo, meters, keys")).ToValueArray(),
        };
    }

    /// <summary>Gives a session the markers.</summary>
    /// <param name="own">The item that made the session: that it brought its markers too needs no saying.</param>
    public Session Marked(Session session, string? own)
    {
        var chosen = _markerSources.Exists(s => s.Item == state.MarkersFrom) ? state.MarkersFrom : null;
        var taken = _markers.Where(m => chosen is null || m.Item == chosen).ToList();
        var from = _markerSources.Where(s => s.Item != own && taken.Exists(m => m.Item == s.Item)).Select(s => new Provenance(s.Name, "markers"));
        return session with
        {
            Markers = MarkerJoin.Together(session with { Markers = [] }, taken.Select(m => m.Marker)),
            Provenance = session.Provenance.Concat(from).ToValueArray(),
        };
    }
}
