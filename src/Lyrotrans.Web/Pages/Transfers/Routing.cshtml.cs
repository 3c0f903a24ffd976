using Lyrotrans.Core.Routing;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Surveying;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>The ways of the sound, drawn: tracks, buses, returns, sends and levels; every one jumps to its track.</summary>
public sealed class RoutingModel(DeskLoader desks, LyroContext database, RevisionLog revisions) : DeskPage(desks, database, revisions)
{
    private const int MostLetters = 17;

    public override string StageName => "Survey";

    public override IReadOnlyList<(string Key, string Does)> Keys => [];

    public RoutingDiagram Diagram { get; private set; } = new([], [], 0, 0);

    /// <summary>Tracks that feed each other; null where none do.</summary>
    public string? Circle { get; private set; }

    /// <summary>The track whose ways stand out; null for all.</summary>
    public string? Chosen { get; private set; }

    public void OnGet(string? track)
    {
        Diagram = RoutingDiagram.Of(Desk.Session);
        Circle = SignalPaths.Of(Desk.Session).Circle;
        Chosen = Diagram.Nodes.Any(n => n.Id == track) ? track : null;
    }

    /// <summary>A name as long as fits.</summary>
    public static string Short(string name) => name.Length <= MostLetters ? name : name[..(MostLetters - 1)] + "…";
}
