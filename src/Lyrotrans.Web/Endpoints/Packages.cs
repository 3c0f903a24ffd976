using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Jobs;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Endpoints;

/// <summary>Downloads of finished packages and their proofs.</summary>
public static class Packages
{
    public static void MapPackages(this WebApplication app)
    {
        app.MapGet("/builds/{id:guid}/package", async (Guid id, HttpContext context, DeskLoader desks, RoomAccess access, Settings settings, CancellationToken stop) =>
        {
            var build = await FindAsync(id, context, desks, access, stop);
            return build is { State: WorkState.Done, FileName: not null } && File.Exists(BuildJob.PackagePath(settings, id))
                ? Results.File(BuildJob.PackagePath(settings, id), "application/zip", build.FileName, enableRangeProcessing: true)
                : Results.NotFound();
        });
        app.MapGet("/builds/{id:guid}/proof", async (Guid id, HttpContext context, DeskLoader desks, RoomAccess access, Settings settings, CancellationToken stop) =>
            await FindAsync(id, context, desks, access, stop) is not null && File.Exists(BuildJob.ProofPath(settings, id))
                ? Results.File(BuildJob.ProofPath(settings, id), "application/json")
                : Results.NotFound());
    }

    private static Task<PackageBuild?> FindAsync(Guid id, HttpContext context, DeskLoader desks, RoomAccess access, CancellationToken stop) =>
        access.Builds(desks.IdOf(context.User)).SingleOrDefaultAsync(b => b.Id == id, stop);
}
