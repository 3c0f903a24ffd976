using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Sheets;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Running;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Seeding;

/// <summary>Makes the demo room with its transfers, once, of the files that the demo's own program wrote, through the same ways that an engineer's files take.</summary>
public sealed class Seeder(
    LyroContext database, UserManager<Account> accounts, FileStore store, RoomMediaStores rooms, DeskLoader desks, WorkBook work, SheetShelf shelf, Settings settings, ILogger<Seeder> log)
{
    public const string DemoEmail = "engineer@quillfeather.example";

    // The rooms that the demo's sessions go to.
    private static readonly string[] s_sheets =
    [
        """{ "sheetVersion": 1, "name": "Tarn Lane, clips wanted", "notes": "Clips with five seconds of handle, and a guide mix.", "frameRate": "25", "audio": "keep clips", "mix": { "guide": true }, "clips": { "trimmed": true, "handle": 5000, "monoOnly": false } }""",
        """{ "sheetVersion": 1, "name": "Tarn Lane, files only", "notes": "One file a track, dry, from bar 1.", "longestName": 48, "audio": "print dry", "from": "bar 1", "mix": { "guide": true }, "click": { "print": true } }""",
        """{ "sheetVersion": 1, "name": "Dome picture desk", "notes": "Everything inside one file, mono, places in frames.", "frameRate": "25", "longestName": 31, "letters": "ascii", "audio": "keep clips", "clips": { "trimmed": true, "handle": 50, "handleUnit": "frames", "monoOnly": true, "renderGain": true, "frameUnits": true } }""",
    ];

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

        var folder = Path.Combine(settings.DataFolder, "demo");
        if (!Directory.Exists(folder))
        {
            log.LogWarning("There is no demo in {Folder}", folder);
            return;
        }

        log.LogInformation("Bringing the demo in");
        var room = new Room { Id = Guid.NewGuid(), Name = "Quillfeather Hall recording room" };
        database.Rooms.Add(room);
        await database.SaveChangesAsync(stop);
        var engineer = new Account { Id = Guid.NewGuid(), UserName = DemoEmail, Email = DemoEmail, EmailConfirmed = true, Name = "Sending engineer" };
        foreach (var sheet in s_sheets)
        {
            await shelf.KeepAsync(room.Id, sheet, "the demo", engineer.Name, stop);
        }

        var suite = await TransferAsync(room, engineer, "Orrery Suite", "Tarn Lane mixing room", stop, Path.Combine(folder, "session"));
        var bells = await TransferAsync(room, engineer, "Three bells, one lantern", "a session player", stop, Path.Combine(folder, "bells"));
        await BuildAsync(suite, engineer, 1, stop);

        // A session player wants a click, and two bars to come in on.
        await PrepareAsync(bells, room, engineer, "click printed and as notes, count-in of 2", Prepared(folder, "bells"), stop);

        // The other way to send the same: nothing but sound files, and one that came late with a header that lies.
        var printed = await TransferAsync(room, engineer, "Planetarium show, all printed", "Tarn Lane mixing room, files only", stop, Path.Combine(folder, "session"), Path.Combine(folder, "late"));
        var prepared = await PrepareAsync(printed, room, engineer, "every kind of print, stems and a guide mix", Prepared(folder, "session"), stop);
        await BuildAsync(printed, engineer, prepared, stop);

        // And one that came as it was, with what goes wrong seldom.
        await TransferAsync(room, engineer, "Second reel, as it came", "a picture desk", stop, Path.Combine(folder, "odd"));

        // What another room sent here, for a first look and a reply.
        await TransferAsync(room, engineer, "Lantern walk", "Tarn Lane mixing room", stop, Path.Combine(folder, "incoming"));

        // The account comes last: a seeding that was killed is done again, not left half done.
        await using var transaction = await database.Database.BeginTransactionAsync(stop);
        var made = await accounts.CreateAsync(engineer, settings.DemoPassword);
        if (!made.Succeeded)
        {
            throw new InvalidOperationException($"The demo account could not be made: {string.Join(" ", made.Errors.Select(e => e.Description))}");
        }

        database.Memberships.Add(new Membership { RoomId = room.Id, AccountId = engineer.Id, Since = DateTimeOffset.UtcNow });
        await database.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
    }

    private static Preparation Prepared(string folder, string transfer)
    {
        var file = $"{transfer}.preparation.json";
        return PreparationDocument.Read(File.ReadAllBytes(Path.Combine(folder, file)), file);
    }

    private async Task<Transfer> TransferAsync(Room room, Account engineer, string name, string receiver, CancellationToken stop, params string[] folders)
    {
        var transfer = new Transfer { Id = Guid.NewGuid(), RoomId = room.Id, Name = name, Receiver = receiver, ChangedAt = DateTimeOffset.UtcNow };
        database.Transfers.Add(transfer);
        await database.SaveChangesAsync(stop);
        var files = folders.SelectMany(f => Directory.EnumerateFiles(f, "*", SearchOption.AllDirectories).Select(file => Arrived(f, file))).ToList();
        using var pulse = new WorkPulse(_ => false, stop);
        var intake = new IntakeWork(rooms.Of(room.Id), store.Incoming, (_, _) => Task.CompletedTask, pulse);
        var items = intake.Measured(await intake.TakeAsync(files));

        var desk = desks.Make(transfer, room, engineer, null);
        await desks.CommitIntakeAsync(desk, IntakeWork.Words(items, intake.Packages), desk.Intake.With(items, intake.Packages), stop);
        return transfer;
    }

    private ArrivedFile Arrived(string folder, string file)
    {
        var copy = Path.Combine(store.Incoming, Guid.NewGuid().ToString("N"));
        File.Copy(file, copy);
        return new ArrivedFile(Path.GetRelativePath(folder, file).Replace('\\', '/'), copy, null);
    }

    private async Task<int> PrepareAsync(Transfer transfer, Room room, Account engineer, string words, Preparation prepared, CancellationToken stop)
    {
        var revision = await database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == transfer.Id, stop);
        var desk = desks.Make(transfer, room, engineer, revision);
        return (await desks.CommitAsync(desk, words, receivers: desk.Receivers.Preparing(prepared.For(desk.Session)), stop: stop)).Number;
    }

    private async Task BuildAsync(Transfer transfer, Account engineer, int revision, CancellationToken stop)
    {
        var build = new PackageBuild { Id = Guid.NewGuid(), TransferId = transfer.Id, Revision = revision, By = engineer.Name, At = DateTimeOffset.UtcNow };
        await work.BeginAsync(build, null, stop);
    }
}
