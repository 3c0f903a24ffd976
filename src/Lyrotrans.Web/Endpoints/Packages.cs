using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Microsoft.EntityFrameworkCore;
using Microsoft.Net.Http.Headers;

namespace Lyrotrans.Web.Endpoints;

/// <summary>Downloads of finished packages and their proofs.</summary>
public static class Packages
{
    public static void MapPackages(this WebApplication app)
    {
        app.MapGet("/builds/{id:guid}/package", async (Guid id, HttpContext context, DeskLoader desks, RoomAccess access, PackageStore packages, CancellationToken stop) =>
        {
            var build = await FindAsync(id, context, desks, access, stop);
            return build is { State: WorkState.Done, FileName: not null } && packages.Package(id) is { } package
                ? Results.Stream(package.Open(), "application/zip", build.FileName, build.FinishedAt, build.Sha256 is { } sha256 ? new EntityTagHeaderValue($"\"{sha256}\"") : null, enableRangeProcessing: true)
                : Results.NotFound();
        });
        app.MapGet("/builds/{id:guid}/proof", async (Guid id, HttpContext context, DeskLoader desks, RoomAccess access, PackageStore packages, CancellationToken stop) =>
            await FindAsync(id, context, desks, access, stop) is not null && packages.Proof(id) is { } proof
                ? Results.Stream(proof.Open(), "application/json")
                : Results.NotFound());
    }

    private static Task<PackageBuild?> FindAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, CancellationToken stop) =>
        access.Builds(desks.IdOf(context.User)).SingleOrDefaultAsync(b => b.Id == id, stop);
}
