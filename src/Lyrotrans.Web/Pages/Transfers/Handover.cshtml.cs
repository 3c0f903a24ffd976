using Lyrotrans.Core.Following;
using Lyrotrans.Core.Naming;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Links;
using Lyrotrans.Web.Mail;
using Lyrotrans.Web.Rehearsing;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>The packages that were built, to hand over.</summary>
public sealed class HandoverModel(DeskLoader desks, LyroContext database, RevisionLog revisions, RoomAccess access, LinkBook book, ReturnDesk returns, ArrivalDesk arrivals, CameBackDesk cameBack, RehearsalDesk rehearsals, Letters letters, Tries tries, WorkBook work, Settings settings, TimeProvider clock) : DeskPage(desks, database, revisions)
{
    private const int MostEvents = 200;

    public override string StageName => "Handover";

    /// <summary>What the newest package was built by, which the session in force may have left behind.</summary>
    public Core.Delivering.DeliveryPlan? Plan { get; private set; }

    /// <summary>Packages for this receiver, the newest first; then those of receivers that left.</summary>
    public IReadOnlyList<PackageBuild> Packages { get; private set; } = [];

    /// <summary>Links to these packages, the newest first.</summary>
    public IReadOnlyList<PackageLink> Links { get; private set; } = [];

    /// <summary>What happened at the links, the newest first.</summary>
    public IReadOnlyList<LinkEvent> Events { get; private set; } = [];

    /// <summary>How many fetched by each link.</summary>
    public IReadOnlyDictionary<Guid, int> Claims { get; private set; } = new Dictionary<Guid, int>();

    /// <summary>What receivers sent back and nobody took or threw away yet.</summary>
    public IReadOnlyList<ReturnedFile> Returned { get; private set; } = [];

    /// <summary>How much of a package was listened to, in a few words.</summary>
    public string HeardOf(PackageBuild build) => _heard.GetValueOrDefault(build.Id) is var (heard, faults) && heard > 0 ? $"{Phrases.Count(heard, "file")} heard, {(faults > 0 ? Phrases.Count(faults, "fault") : "no fault")}" : "listen to it";

    private Dictionary<Guid, (int Heard, int Faults)> _heard = [];

    /// <summary>What came of reading a package back, in a few words.</summary>
    public (string Words, string Class) ReadBackOf(PackageBuild build) => _rehearsals.GetValueOrDefault(build.Id)?.IsSame switch
    {
        null => ("read it back", string.Empty),
        true => ("reads as sent", "good"),
        false => ("reads otherwise", "flag"),
    };

    private IReadOnlyDictionary<Guid, RehearsalRun> _rehearsals = new Dictionary<Guid, RehearsalRun>();

    /// <summary>Whether a link opens its package now.</summary>
    public bool Holds(PackageLink link) => link.Holds(clock.GetUtcNow());

    /// <summary>The files that came and are here, as the archive would have them; those that only earlier revisions had are counted when it is fetched.</summary>
    public IReadOnlyList<long> Originals => field ??= [.. Desk.Intake.Items.Select(i => i.Sha256).Where(s => s.Length > 0 && Desk.Media.Has(s)).Distinct().Select(s => Desk.Media.FileOf(s).Length)];

    /// <summary>Names of files that came and are not here any more.</summary>
    public IReadOnlyList<string> Gone => [.. Desk.Intake.Items.Where(i => i.Sha256.Length > 0 && !Desk.Media.Has(i.Sha256)).Select(i => i.Name)];

    /// <summary>How many revisions there are.</summary>
    public int RevisionCount { get; private set; }

    public string ArchivePath => $"/transfers/{Desk.Id}/archive";

    public Task OnGetAsync(CancellationToken stop) => LoadAsync(stop);

    /// <summary>Offers a package by a link, which is shown this once.</summary>
    public async Task<IActionResult> OnPostOfferAsync(Guid build, string? @for, string? mail, int days, string? passphrase, int? claims, decimal? back, CancellationToken stop)
    {
        var terms = new LinkTerms((@for ?? string.Empty).Trim(), (mail ?? string.Empty).Trim(), days, passphrase ?? string.Empty, claims, (long)(Math.Clamp(back ?? 0, -1, 1000) * 1_000_000_000));
        if (!ModelState.IsValid || terms.Problem is not null)
        {
            return BadRequest(ModelState.IsValid ? terms.Problem! : "A number was expected, and there is none. Nothing was offered.");
        }

        if (await KeptAsync(build, stop) is not { } package)
        {
            return BadRequest("There is no such package to offer; build it again.");
        }

        if (terms.Mail.Length > 0 && !tries.MayOnce(TryOf.Letter(terms.Mail)))
        {
            return BadRequest($"{terms.Mail} got many letters just now. Wait a few minutes, or make the link without one.");
        }

        var (link, token) = await book.MakeAsync(package, terms, Desk.Engineer, stop);
        var path = $"/r/{token.Text}";
        if (terms.Mail.Length > 0)
        {
            await letters.OfferedAsync(terms.Mail, Desk.Room.Name, package.FileName!, path, link.ExpiresAt, terms.Passphrase.Length > 0);
        }

        await LoadAsync(stop);
        Offered = new Uri(settings.PublicAddress, path).ToString();
        return Part("_Offers");
    }

    /// <summary>What the receiver has: the newest package that was fetched, confirmed, or lies in a folder; null where that is none.</summary>
    public PackageBuild? Has { get; private set; }

    /// <summary>How it came to him, in a few words.</summary>
    public string HasWords { get; private set; } = string.Empty;

    /// <summary>Whether a follow-up to a package would bring anything: the session or its preparation changed since.</summary>
    public bool MayFollow(PackageBuild build) => build.ManifestSha256 is not null && build.ReceiverId == Desk.Receiver.Id && build.Revision != Desk.Revision!.Number;

    /// <summary>Builds what is new or changed since a package that the receiver has.</summary>
    /// <param name="from">The revision that the button was shown at.</param>
    /// <param name="build">The package that he has.</param>
    /// <param name="stop">Stops it before anything is built.</param>
    public async Task<IActionResult> OnPostFollowUpAsync(int from, Guid build, CancellationToken stop)
    {
        if (Stale(from) is { } stale)
        {
            return stale;
        }

        if (await KeptAsync(build, stop) is not { } before || before.ReceiverId != Desk.Receiver.Id || before.Revision == from)
        {
            return BadRequest("There is no such package to follow, or nothing changed since. Nothing was built.");
        }

        var (then, now) = ((await Desks.PlanAsync(before, stop)).Plan, Desks.Plan(Desk));
        if ((SameStart.Problem(then, now) ?? now.Problem) is { } problem)
        {
            return BadRequest(problem);
        }

        // A state of its own, so that everybody sees under which names it goes, and can undo it.
        var revision = KeptNames.Of(then, now, Desk.Session, Desk.Preparation) is not { } kept ? from
            : (await Desks.CommitAsync(Desk, ForReceiver($"names as they went in revision {before.Revision}"), receivers: Desk.Receivers.With(Desk.Receiver with { Preparation = kept }), stop: stop)).Number;
        await work.BeginAsync(
            new PackageBuild { Id = Guid.NewGuid(), TransferId = Desk.Id, Revision = revision, ReceiverId = Desk.Receiver.Id, ReceiverName = Desk.Receiver.Name, FollowsId = before.Id, By = Desk.Engineer.Name, At = clock.GetUtcNow() }, null, stop);
        return await GoTo("build");
    }

    /// <summary>The address of the link that was just made; null at any other time.</summary>
    public string? Offered { get; private set; }

    public async Task<IActionResult> OnPostRevokeAsync(Guid link, CancellationToken stop)
    {
        if (await FindAsync(link, stop) is { } found)
        {
            await book.RevokeAsync(found, Desk.Engineer, stop);
        }

        await LoadAsync(stop);
        return Part("_Offers");
    }

    /// <summary>Takes what came back by a link into this transfer.</summary>
    /// <param name="link">That it came by.</param>
    /// <param name="placed">Names of files that are put where their sound lies.</param>
    /// <param name="stop">Stops it before anything is taken.</param>
    public async Task<IActionResult> OnPostTakeAsync(Guid link, List<string>? placed, CancellationToken stop)
    {
        var found = await FindAsync(link, stop);
        if (found is not null && await returns.TakeAsync(found, Desk.Transfer, await cameBack.PlacesAsync(found, Desk, placed ?? [], stop), Desk.Engineer, stop) is { } problem)
        {
            return BadRequest(problem);
        }

        if (found is not null)
        {
            await cameBack.StopAsync(found, stop);
        }

        return await GoTo("intake");
    }

    /// <summary>Looks at the sound of what came back by a link.</summary>
    public async Task<IActionResult> OnPostLookThroughAsync(Guid link, CancellationToken stop)
    {
        if (await FindAsync(link, stop) is { } found)
        {
            await cameBack.BeginAsync(found, Desk.Engineer, stop);
        }

        return await CameBackAsync(link, stop);
    }

    /// <summary>Stops looking at what came back by a link.</summary>
    public async Task<IActionResult> OnPostStopLookAsync(Guid link, CancellationToken stop)
    {
        if (await FindAsync(link, stop) is { } found)
        {
            await cameBack.StopAsync(found, stop);
        }

        return await CameBackAsync(link, stop);
    }

    /// <summary>How far a look is.</summary>
    public Task<IActionResult> OnGetCameBackAsync(Guid link, CancellationToken stop) => CameBackAsync(link, stop);

    /// <summary>What came back by a link and waits.</summary>
    public CameBackView BackBy(PackageLink link) => new(link, [.. Returned.Where(f => f.LinkId == link.Id)], _looks.GetValueOrDefault(link.Id));

    private IReadOnlyDictionary<Guid, ReturnCheck> _looks = new Dictionary<Guid, ReturnCheck>();

    // Alone: what somebody types beside it stays.
    private async Task<IActionResult> CameBackAsync(Guid link, CancellationToken stop)
    {
        await LoadAsync(stop);
        return Links.FirstOrDefault(l => l.Id == link) is { } found && BackBy(found) is { Files.Count: > 0 } back ? Partial("_CameBack", back) : Content(string.Empty);
    }

    /// <summary>Throws away what came back by a link.</summary>
    public async Task<IActionResult> OnPostThrowAwayAsync(Guid link, CancellationToken stop)
    {
        if (await FindAsync(link, stop) is { } found)
        {
            await cameBack.StopAsync(found, stop);
            await returns.RemoveAsync(found, [], Desk.Engineer, stop);
        }

        await LoadAsync(stop);
        return Part("_Offers");
    }

    /// <summary>What receivers exported again, held to what was sent; the newest first.</summary>
    public IReadOnlyList<ArrivalCheck> Arrivals { get; private set; } = [];

    /// <summary>Names of folders that the operator allows.</summary>
    public IEnumerable<string> Folders => settings.Folders.Keys;

    /// <summary>What was put into folders, the newest first.</summary>
    public IReadOnlyList<FolderDelivery> Deliveries { get; private set; } = [];

    /// <summary>Whether any of it is at work.</summary>
    public bool IsPutting => Deliveries.Any(d => d.State is WorkState.Waiting or WorkState.Working);

    /// <summary>Puts a package into a folder that the operator allows.</summary>
    public async Task<IActionResult> OnPostPutAsync(Guid build, string place, string? within, string form, CancellationToken stop)
    {
        if (!settings.Folders.ContainsKey(place ?? string.Empty))
        {
            return BadRequest("The operator allows no such folder.");
        }

        if (await KeptAsync(build, stop) is not { } package)
        {
            return BadRequest("There is no such package to put there; build it again.");
        }

        var (zip, name) = (form == "zip", $"{Path.GetFileNameWithoutExtension(package.FileName)}_revision_{package.Revision}_{package.At.ToString("yyyyMMdd'T'HHmm", System.Globalization.CultureInfo.InvariantCulture)}");
        var own = (within ?? string.Empty).Trim();
        await work.BeginAsync(
            new FolderDelivery { Id = Guid.NewGuid(), BuildId = build, Place = place!, Within = own.Length == 0 ? string.Empty : LegalName.From(own), Name = zip ? $"{name}.zip" : name, IsZip = zip, By = Desk.Engineer.Name, At = clock.GetUtcNow() },
            stop);
        await LoadAsync(stop);
        return Part("_Folders");
    }

    /// <summary>Looks again whether a package lies in its folder, whole; or goes on with one that failed.</summary>
    public async Task<IActionResult> OnPostLookAsync(Guid delivery, CancellationToken stop)
    {
        var mine = access.FolderDeliveries(Desk.Engineer.Id).Where(d => d.Id == delivery && Database.Builds.Any(b => b.Id == d.BuildId && b.TransferId == Desk.Id));
        await work.AgainAsync(mine, stop);
        await LoadAsync(stop);
        return Part("_Folders");
    }

    /// <summary>How far folders are.</summary>
    public async Task<IActionResult> OnGetFoldersAsync(CancellationToken stop)
    {
        await LoadAsync(stop);
        return Part("_Folders");
    }

    // Packages that are kept as one zip are of before links and folders.
    private Task<PackageBuild?> KeptAsync(Guid build, CancellationToken stop) =>
        access.Builds(Desk.Engineer.Id).SingleOrDefaultAsync(b => b.Id == build && b.TransferId == Desk.Id && b.State == WorkState.Done && b.ManifestSha256 != null, stop);

    private Task<PackageLink?> FindAsync(Guid link, CancellationToken stop) =>
        access.Links(Desk.Engineer.Id).SingleOrDefaultAsync(l => l.Id == link && Database.Builds.Any(b => b.Id == l.BuildId && b.TransferId == Desk.Id), stop);

    private async Task LoadAsync(CancellationToken stop)
    {
        RevisionCount = await Database.Revisions.CountAsync(r => r.TransferId == Desk.Id, stop);
        var here = Desk.Receivers.All.Select(r => r.Id).ToList();
        var left = Database.Builds.AsNoTracking().Where(b => b.TransferId == Desk.Id && b.State == WorkState.Done && !here.Contains(b.ReceiverId)).OrderByDescending(b => b.At);
        Packages = [.. await Builds.Where(b => b.State == WorkState.Done).ToListAsync(stop), .. await left.ToListAsync(stop)];
        if (Packages.Count > 0)
        {
            var revision = await Database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == Desk.Id && r.Number == Packages[0].Revision, stop);
            var then = Desks.Make(Desk.Transfer, Desk.Room, Desk.Engineer, revision);
            Plan = Desks.Plan(then with { Receiver = then.Receivers[Packages[0].ReceiverId] ?? then.Receiver });
        }

        await LoadLinksAsync(stop);
    }

    private string ArrivedBy(PackageBuild build)
    {
        var links = Links.Where(l => l.BuildId == build.Id).ToList();
        return links.Where(l => l.ConfirmedAt is not null).MaxBy(l => l.ConfirmedAt) is { } link ? $"confirmed by {link.ConfirmedBy}, {link.ConfirmedAt!.Value.ToString("d MMM HH:mm", System.Globalization.CultureInfo.InvariantCulture)} UTC"
            : links.Any(l => Claims.GetValueOrDefault(l.Id) > 0) ? "fetched by a link"
            : Deliveries.FirstOrDefault(d => d.BuildId == build.Id && d.IsThere) is { } there ? $"in the folder {there.Place}" : string.Empty;
    }

    private async Task LoadLinksAsync(CancellationToken stop)
    {
        var builds = Packages.Select(p => p.Id).ToList();
        _heard = (await Database.HeardMarks.AsNoTracking().Where(m => builds.Contains(m.BuildId)).ToListAsync(stop)).GroupBy(m => m.BuildId).ToDictionary(g => g.Key, g => (g.Select(m => m.Path).Distinct().Count(), g.Count(m => m.Kind == HeardKind.Fault)));
        Links = await access.Links(Desk.Engineer.Id).Where(l => builds.Contains(l.BuildId)).OrderByDescending(l => l.At).ToListAsync(stop);
        Deliveries = await access.FolderDeliveries(Desk.Engineer.Id).Where(d => builds.Contains(d.BuildId)).OrderByDescending(d => d.At).ToListAsync(stop);
        var links = Links.Select(l => l.Id).ToList();
        Arrivals = await arrivals.OfAsync(links, stop);
        _looks = await cameBack.OfAsync(links, stop);
        _rehearsals = await rehearsals.OfAsync(builds, stop);
        Events = await Database.LinkEvents.AsNoTracking().Where(e => links.Contains(e.LinkId)).OrderByDescending(e => e.Id).Take(MostEvents).ToListAsync(stop);
        Claims = await Database.LinkClaims.Where(c => links.Contains(c.LinkId)).GroupBy(c => c.LinkId).Select(g => new { g.Key, Count = g.Count() }).ToDictionaryAsync(g => g.Key, g => g.Count, stop);
        (Has, HasWords) = Packages.Where(p => p.ReceiverId == Desk.Receiver.Id).Select(p => (Package: (PackageBuild?)p, Words: ArrivedBy(p))).FirstOrDefault(p => p.Words.Length > 0);
        Returned = [.. (await returns.OfAsync(links, stop)).Where(f => f.State == ReturnState.Here)];
    }
}
