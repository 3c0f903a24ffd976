using Hangfire;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Demo;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Seeding;

/// <summary>Makes the demo room with its transfers, once, through the same ways that an engineer's files take.</summary>
public sealed class Seeder(
    LyroContext database, UserManager<Account> accounts, MediaStore store, DeskLoader desks, IBackgroundJobClient jobs, Settings settings, ILogger<Seeder> log)
{
    public const string DemoEmail = "engineer@quillfeather.example";

    public async Task SeedAsync(CancellationToken stop)
    {
        if (settings.DemoPassword is null)
        {
            return;
        }

        if (await database.Users.AnyAsync(u => u.Email == DemoEmail, stop))
        {
            return;
        }

        log.LogInformation("Making the demo");
        var folder = Path.Combine(settings.DataFolder, "demo");
        DemoFiles.Write(folder, DemoScale());
        var room = new Room { Id = Guid.NewGuid(), Name = "Quillfeather Hall recording room" };
        database.Rooms.Add(room);
        await database.SaveChangesAsync(stop);
        var engineer = new Account { Id = Guid.NewGuid(), UserName = DemoEmail, Email = DemoEmail, Name = "Sending engineer", RoomId = room.Id, Room = room };
        var suite = await TransferAsync(engineer, "Orrery Suite", "Tarn Lane mixing room", Path.Combine(folder, "session"), stop);
        var bells = await TransferAsync(engineer, "Three bells, one lantern", "a session player", Path.Combine(folder, "bells"), stop);
        await PrepareAsync(bells, engineer, stop);
        await BuildAsync(suite, engineer, stop);

        // The account comes last: a seeding that was killed is done again, not left half done.
        var made = await accounts.CreateAsync(engineer, settings.DemoPassword);
        if (!made.Succeeded)
        {
            throw new InvalidOperationException($"The demo account could not be made: {string.Join(" ", made.Errors.Select(e => e.Description))}");
        }
    }

    // Tests seed a shorter piece.
    private static double DemoScale() =>
        double.TryParse(Environment.GetEnvironmentVariable("LYRO_DEMO_SCALE"), System.Globalization.CultureInfo.InvariantCulture, out var scale) ? Math.Clamp(scale, 0.1, 1) : 1;

    private async Task<Transfer> TransferAsync(Account engineer, string name, string receiver, string folder, CancellationToken stop)
    {
        var transfer = new Transfer { Id = Guid.NewGuid(), RoomId = engineer.RoomId, Name = name, Receiver = receiver, ChangedAt = DateTimeOffset.UtcNow };
        database.Transfers.Add(transfer);
        await database.SaveChangesAsync(stop);
        var items = new List<IntakeItem>();
        foreach (var file in Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal))
        {
            var relative = Path.GetRelativePath(folder, file).Replace('\\', '/');
            var copy = Path.Combine(store.Incoming, Guid.NewGuid().ToString("N"));
            File.Copy(file, copy);
            var sha256 = await store.TakeAsync(copy, stop);
            var item = Examiner.Examine(store.PathOf(sha256), relative, sha256);
            items.Add(item);
            if (item.IsSound)
            {
                SoundMeasures.EnsurePeaks(store, sha256, relative, stop);
            }
        }

        var desk = desks.Make(transfer, engineer.Room!, engineer, null);
        await desks.CommitIntakeAsync(desk, $"brought in {items.Count} files", desk.Intake with { Items = items }, stop);
        return transfer;
    }

    // A session player wants a click, and two bars to come in on.
    private async Task PrepareAsync(Transfer transfer, Account engineer, CancellationToken stop)
    {
        var revision = await database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == transfer.Id, stop);
        var desk = desks.Make(transfer, engineer.Room!, engineer, revision);
        var click = new ClickChoices(Print: true, Midi: true, CountInBars: 2);
        await desks.CommitAsync(desk, "click printed and as notes, count-in of 2", preparation: desk.Preparation with { Click = click }, stop: stop);
    }

    private async Task BuildAsync(Transfer transfer, Account engineer, CancellationToken stop)
    {
        var build = new PackageBuild { Id = Guid.NewGuid(), TransferId = transfer.Id, Revision = 1, By = engineer.Name, At = DateTimeOffset.UtcNow, State = WorkState.Waiting, Doing = "waiting" };
        database.Builds.Add(build);
        await database.SaveChangesAsync(stop);
        jobs.Enqueue<BuildJob>(job => job.RunAsync(build.Id));
    }
}
