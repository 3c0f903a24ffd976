using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Text;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Links;

/// <summary>Makes links to packages, finds them again, and notes what happens at them: the one way for all of it.</summary>
public sealed class LinkBook(LyroContext database, RoomAccess access, PackageStore packages, LinkVisitor visitor, RoomLog log, TimeProvider clock)
{
    // Looking at a page again within it is no other visit.
    private static readonly TimeSpan s_visit = TimeSpan.FromMinutes(10);
    private readonly PasswordHasher<PackageLink> _passphrases = new();

    /// <summary>Makes a link to a finished package.</summary>
    /// <param name="build">That the person may see.</param>
    /// <param name="terms">Without a problem.</param>
    /// <param name="person">Who makes it.</param>
    /// <param name="stop">Stops it before it is kept.</param>
    public async Task<(PackageLink Link, LinkToken Token)> MakeAsync(PackageBuild build, LinkTerms terms, Account person, CancellationToken stop)
    {
        var (token, now) = (LinkToken.New(), clock.GetUtcNow());
        var link = new PackageLink
        {
            Id = Guid.NewGuid(),
            BuildId = build.Id,
            TokenSha256 = token.Sha256,
            For = terms.For,
            Mail = terms.Mail,
            By = person.Name,
            At = now,
            ExpiresAt = now.AddDays(terms.Days),
            MostClaims = terms.MostClaims,
            ReturnBytes = terms.ReturnBytes,
        };
        link.PassphraseHash = terms.Passphrase.Length > 0 ? _passphrases.HashPassword(link, terms.Passphrase) : null;
        database.Links.Add(link);
        database.LinkEvents.Add(Event(link.Id, LinkEventKind.Made, person.Name, terms.Mail.Length > 0 ? $"made, and sent to {terms.Mail}" : "made"));
        await database.SaveChangesAsync(stop);
        await NoteInRoomAsync(build, person, RoomEventKind.Offered, $"{build.FileName} by a link{(terms.For.Length > 0 ? $" for {terms.For}" : string.Empty)}, for {terms.Days} days", stop);
        return (link, token);
    }

    /// <summary>What a token opens; null where nothing, for whatever reason.</summary>
    public async Task<OpenedLink?> FindAsync(string? text, CancellationToken stop)
    {
        if (LinkToken.Of(text) is not { } token)
        {
            return null;
        }

        var sum = token.Sha256;
        var found = await database.Links.AsNoTracking().Where(l => l.TokenSha256 == sum)
            .Join(database.Builds.AsNoTracking(), l => l.BuildId, b => b.Id, (l, b) => new { Link = l, Build = b })
            .Join(database.Transfers.AsNoTracking(), x => x.Build.TransferId, t => t.Id, (x, t) => new { x.Link, x.Build, Transfer = t })
            .Join(database.Rooms.AsNoTracking(), x => x.Transfer.RoomId, r => r.Id, (x, r) => new { x.Link, x.Build, x.Transfer, Room = r }).SingleOrDefaultAsync(stop);
        return found is not null && found.Link.Holds(clock.GetUtcNow()) && found.Build.State == WorkState.Done && packages.Sent(found.Build) is { } package
            ? new OpenedLink(token, found.Link, found.Build, found.Transfer, found.Room, package, visitor.Opened(found.Link))
            : null;
    }

    /// <summary>Whether a passphrase is a link's.</summary>
    public bool IsRight(PackageLink link, string passphrase) =>
        link.PassphraseHash is { } hash && _passphrases.VerifyHashedPassword(link, hash, passphrase) != PasswordVerificationResult.Failed;

    /// <summary>
    /// Claims the package for whoever asks. Of two that come at once where one may still have it, one gets it: the link's row is held meanwhile.
    /// </summary>
    public async Task<LinkAnswer> ClaimAsync(PackageLink link, CancellationToken stop)
    {
        var (claimant, now) = (visitor.ClaimantAt(link), clock.GetUtcNow());
        await using var alone = await database.Database.BeginTransactionAsync(stop);
        await database.Database.ExecuteSqlAsync($"""SELECT 1 FROM "Links" WHERE "Id" = {link.Id} FOR UPDATE""", stop);
        var held = await database.Links.AsNoTracking().SingleAsync(l => l.Id == link.Id, stop);
        if (!held.Holds(now))
        {
            return LinkAnswer.Gone;
        }

        var since = now - LinkClaim.Holds;
        if (await database.LinkClaims.AnyAsync(c => c.LinkId == link.Id && c.Claimant == claimant && c.At > since && c.At <= now, stop))
        {
            return LinkAnswer.GoesOn;
        }

        if (held.MostClaims is { } most && await database.LinkClaims.CountAsync(c => c.LinkId == link.Id, stop) >= most)
        {
            return LinkAnswer.UsedUp;
        }

        database.LinkClaims.Add(new LinkClaim { LinkId = link.Id, Claimant = claimant, At = now });
        await database.SaveChangesAsync(stop);
        await alone.CommitAsync(stop);
        return LinkAnswer.Begun;
    }

    /// <summary>Takes a link back: from now on it opens nothing. Nothing happens to one that was taken back.</summary>
    public async Task RevokeAsync(PackageLink link, Account person, CancellationToken stop)
    {
        if (await database.Links.Where(l => l.Id == link.Id && l.RevokedAt == null).ExecuteUpdateAsync(l => l.SetProperty(x => x.RevokedAt, clock.GetUtcNow()), stop) == 1)
        {
            await NoteAsync(link, LinkEventKind.Made, person.Name, "taken back", stop);
            var build = await database.Builds.AsNoTracking().SingleAsync(b => b.Id == link.BuildId, stop);
            await NoteInRoomAsync(build, person, RoomEventKind.Offered, $"took back the link to {build.FileName}{(link.For.Length > 0 ? $" for {link.For}" : string.Empty)}", stop);
        }
    }

    /// <summary>Notes what happened at a link; the room's log has what went out of the room.</summary>
    public async Task NoteAsync(PackageLink link, LinkEventKind kind, string who, string what, CancellationToken stop)
    {
        if (kind == LinkEventKind.Opened)
        {
            var (since, address) = (clock.GetUtcNow() - s_visit, visitor.Address);
            if (await database.LinkEvents.AnyAsync(e => e.LinkId == link.Id && e.Kind == kind && e.Address == address && e.At > since, stop))
            {
                return;
            }
        }

        database.LinkEvents.Add(Event(link.Id, kind, who, what));
        await database.SaveChangesAsync(stop);
    }

    /// <summary>Notes what came of something that a receiver asked for, when nobody is at the page.</summary>
    public async Task NoteByReceiverAsync(PackageLink link, LinkEventKind kind, string what, CancellationToken stop)
    {
        database.LinkEvents.Add(new LinkEvent { LinkId = link.Id, At = clock.GetUtcNow(), Kind = kind, Who = string.Empty, What = Shown.Line(what, 2000), Address = string.Empty });
        await database.SaveChangesAsync(stop);
    }

    /// <summary>The receiver says that all is here; the first time counts.</summary>
    public async Task ConfirmAsync(PackageLink link, string who, CancellationToken stop)
    {
        await database.Links.Where(l => l.Id == link.Id && l.ConfirmedAt == null)
            .ExecuteUpdateAsync(l => l.SetProperty(x => x.ConfirmedAt, clock.GetUtcNow()).SetProperty(x => x.ConfirmedBy, who), stop);
        await NoteAsync(link, LinkEventKind.Confirmed, who, "all is here", stop);
    }

    /// <summary>The links to a package of a person's room, the newest first.</summary>
    public Task<List<PackageLink>> OfAsync(Guid account, Guid build, CancellationToken stop) =>
        access.Links(account).Where(l => l.BuildId == build).OrderByDescending(l => l.At).ToListAsync(stop);

    private async Task NoteInRoomAsync(PackageBuild build, Account person, RoomEventKind kind, string what, CancellationToken stop)
    {
        var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == build.TransferId, stop);
        await log.NoteAsync(transfer.RoomId, person, kind, $"{what}, of {transfer.Name}");
    }

    private LinkEvent Event(Guid link, LinkEventKind kind, string who, string what) =>
        new() { LinkId = link, At = clock.GetUtcNow(), Kind = kind, Who = Shown.Line(who, 100), What = Shown.Line(what, 2000), Address = visitor.Address };
}
