using Lyrotrans.Core.Sound;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>The levels of a session's media, or of the sound files of a package: what is out of line first.</summary>
public sealed class LevelsModel(DeskLoader desks, LyroContext database, RevisionLog revisions, PackageStore packages) : DeskPage(desks, database, revisions)
{
    public override string StageName => OfPackage ? "Build" : "Survey";

    public override IReadOnlyList<(string Key, string Does)> Keys => [("a", "listen, stop"), ("n", "next row"), ("b", "row before")];

    public bool OfPackage { get; private set; }

    public IReadOnlyList<(string Name, SoundLevels Levels, string Heard)> Rows { get; private set; } = [];

    public int Out => Rows.Count(r => r.Levels.Marks.Count > 0);

    public async Task<IActionResult> OnGetAsync(Guid? build, CancellationToken stop)
    {
        OfPackage = build is not null;
        if (build is null)
        {
            var media = Desk.Session.Media.ToDictionary(m => m.Id);
            var levels = await Task.Run(() => SoundMeasures.Levels(Desk.Session, Desk.Media, stop), stop);
            Rows = Sorted(levels.Select(l => (media[l.Key].ShortName, l.Value, $"/transfers/{Desk.Id}/media/{media[l.Key].Sha256}/listen")));
            return Page();
        }

        var found = await Database.Builds.AsNoTracking().SingleOrDefaultAsync(b => b.Id == build && b.TransferId == Desk.Id && b.State == WorkState.Done, stop);
        if (found is null || packages.Package(build.Value) is not { } package)
        {
            return NotFound();
        }

        // A package of before levels were kept is measured when they are first asked for.
        if (packages.Levels(build.Value) is null)
        {
            var (plan, media) = await Desks.PlanAsync(found, stop);
            var measured = await Task.Run(() => PackageLevels.Measure(package, plan, media.Scratch, stop), stop);
            packages.KeepLevels(build.Value, LevelFiles.Write(measured));
        }

        Rows = Sorted(LevelFiles.Read(packages.Levels(build.Value)!).Select(l => (l.Key[(l.Key.IndexOf('/', StringComparison.Ordinal) + 1)..], l.Value, $"/builds/{build}/listen?path={Uri.EscapeDataString(l.Key)}")));
        return Page();
    }

    private static List<(string Name, SoundLevels Levels, string Heard)> Sorted(IEnumerable<(string Name, SoundLevels Levels, string Heard)> rows) => rows.OrderBy(r => r.Levels.Marks.Count == 0).ThenBy(r => r.Name, StringComparer.OrdinalIgnoreCase).ToList();
}
