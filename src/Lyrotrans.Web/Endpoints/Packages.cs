using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Links;
using Microsoft.EntityFrameworkCore;
using Microsoft.Net.Http.Headers;

namespace Lyrotrans.Web.Endpoints;

/// <summary>Downloads of finished packages and their proofs.</summary>
public static class Packages
{
    public static void MapPackages(this WebApplication app)
    {
        app.MapGet("/builds/{id:guid}/package", PackageAsync);
        app.MapGet("/builds/{id:guid}/proof", ProofAsync);
        app.MapGet("/builds/{id:guid}/report", ReportAsync);
    }

    private static async Task<IResult> PackageAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, PackageStore packages, LyroContext database, RoomLog log, CancellationToken stop)
    {
        if (await FindAsync(id, context, desks, access, stop) is not { State: WorkState.Done, FileName: not null } build || (build.FollowsId is null ? packages.Package(id) : packages.Sent(build)?.Zip) is not { } package)
        {
            return Results.NotFound();
        }

        await NoteAsync(build, $"the package {build.FileName}", context, desks, database, log, stop);
        var tag = (build.ManifestSha256 ?? build.Sha256) is { } sha256 ? new EntityTagHeaderValue($"\"{sha256}\"") : null;
        return Results.Stream(package.Open(), "application/zip", build.FileName, build.FinishedAt, tag, enableRangeProcessing: true);
    }

    private static async Task<IResult> ProofAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, PackageStore packages, LyroContext database, RoomLog log, CancellationToken stop)
    {
        if (await FindAsync(id, context, desks, access, stop) is not { } build || packages.Proof(id) is not { } proof)
        {
            return Results.NotFound();
        }

        await NoteAsync(build, $"the proof of revision {build.Revision}", context, desks, database, log, stop);
        return Results.Stream(proof.Open(), "application/json");
    }

    private static async Task<IResult> ReportAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, ReportDesk reports, LyroContext database, RoomLog log, CancellationToken stop)
    {
        if (await FindAsync(id, context, desks, access, stop) is not { State: WorkState.Done, FileName: not null, ManifestSha256: not null } build
            || await reports.MakeAsync(build, await desks.EngineerAsync(context.User, stop), stop) is not var (name, zip))
        {
            return Results.NotFound();
        }

        await NoteAsync(build, $"the report of {build.FileName}", context, desks, database, log, stop);
        return Results.File(zip, "application/zip", name);
    }

    // What goes on from the middle of a file was noted when it began.
    private static async Task NoteAsync(PackageBuild build, string what, HttpContext context, DeskLoader desks, LyroContext database, RoomLog log, CancellationToken stop)
    {
        if (context.Request.GetTypedHeaders().Range?.Ranges.All(r => r.From is > 0) != true)
        {
            var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == build.TransferId, stop);
            await log.NoteAsync(transfer.RoomId, await desks.EngineerAsync(context.User, stop), RoomEventKind.Fetched, $"{what}, of {transfer.Name}");
        }
    }

    private static Task<PackageBuild?> FindAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, CancellationToken stop) =>
        access.Builds(desks.IdOf(context.User)).SingleOrDefaultAsync(b => b.Id == id, stop);
}
