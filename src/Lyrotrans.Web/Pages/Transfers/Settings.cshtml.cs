using Lyrotrans.Core.Routing;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>Every setting of every track, to set them up by elsewhere.</summary>
public sealed class SettingsModel(DeskLoader desks, LyroContext database, RevisionLog revisions) : DeskPage(desks, database, revisions)
{
    public override string StageName => "Survey";

    public override IReadOnlyList<(string Key, string Does)> Keys => [];

    public IReadOnlyList<IGrouping<(int Number, string Track), TrackSetting>> Tracks { get; private set; } = [];

    public void OnGet() => Tracks = [.. TrackSettings.Of(Desk.Session).GroupBy(s => (s.Number, s.Track))];

    /// <summary>Of one thing that a track has once; empty where it has none.</summary>
    public static string One(IEnumerable<TrackSetting> settings, string what) => settings.FirstOrDefault(s => s.What == what)?.Value ?? string.Empty;
}
