using System.Text;
using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Lyrotrans.Web.Sheets;

/// <summary>The receiver sheets that a room can choose: those that came with the program, and its own, of which every state is kept.</summary>
public sealed class SheetShelf(LyroContext database)
{
    /// <summary>The largest sheet, in characters.</summary>
    public const int MostLetters = 100_000;

    /// <summary>So many sheets a room keeps, and so many states of each.</summary>
    public const int Most = 500;

    /// <summary>The room's own first, by name; then those that came with the program.</summary>
    public async Task<IReadOnlyList<OfferedSheet>> AllAsync(Guid room, CancellationToken stop)
    {
        var own = await database.RoomSheets.AsNoTracking().Where(s => s.RoomId == room).OrderBy(s => s.Name).ThenByDescending(s => s.Version).ToListAsync(stop);
        return
        [
            .. own.GroupBy(s => s.Name).Select(g => g.First()).Where(s => s.Json.Length > 0).Select(s => new OfferedSheet($"{s.Id}", s.Name, $"version {s.Version}, {s.By}", s.Json, false)),
            .. ShippedSheets.All.Select((s, i) => new OfferedSheet($"{i + 1}", s.Sheet.Terms!.Name, "came with the program", s.Json, true)),
        ];
    }

    /// <summary>Every state of a room's sheets, the newest first.</summary>
    public Task<List<RoomSheet>> HistoryAsync(IReadOnlyList<Guid> rooms, CancellationToken stop) =>
        database.RoomSheets.AsNoTracking().Where(s => rooms.Contains(s.RoomId)).OrderBy(s => s.Name).ThenByDescending(s => s.Version).ToListAsync(stop);

    /// <summary>Keeps a sheet, as the next state of the one of its name if there is one; one that says nothing new makes none.</summary>
    /// <exception cref="BadInputException">It is no sheet, or the room keeps too many.</exception>
    public async Task<RoomSheet> KeepAsync(Guid room, string json, string file, string by, CancellationToken stop)
    {
        if (json.Length > MostLetters)
        {
            throw new BadInputException(SheetCodes.TooLarge, file, string.Empty, $"It has {json.Length} characters, and a sheet has at most {MostLetters}.", "Check what it is.");
        }

        var name = Read(json, file).Terms?.Name ?? throw new BadInputException(SheetCodes.NoName, file, "$", "It has choices, and neither sheetVersion nor a name.", "Say both, and bring it in again.");
        return await AddAsync(room, name, json, by, stop);
    }

    /// <summary>Puts a sheet away; its states stay in the history.</summary>
    public async Task PutAwayAsync(Guid room, string name, string by, CancellationToken stop)
    {
        if (await database.RoomSheets.AnyAsync(s => s.RoomId == room && s.Name == name, stop))
        {
            await AddAsync(room, name, string.Empty, by, stop);
        }
    }

    /// <summary>A sheet of this text.</summary>
    /// <exception cref="BadInputException">It is none; names the path.</exception>
    public static ReceiverSheet Read(string json, string file) => ReceiverSheet.Read(Encoding.UTF8.GetBytes(json), file);

    private async Task<RoomSheet> AddAsync(Guid room, string name, string json, string by, CancellationToken stop)
    {
        var states = database.RoomSheets.Where(s => s.RoomId == room);
        var newest = await states.Where(s => s.Name == name).OrderByDescending(s => s.Version).FirstOrDefaultAsync(stop);
        if (newest?.Json == json)
        {
            return newest;
        }

        if (await states.CountAsync(stop) >= Most)
        {
            throw new BadInputException(SheetCodes.TooMany, name, string.Empty, $"This room keeps {Most} states of sheets already.", "Begin another room.");
        }

        // Two who keep one at once take turns by the index: the second is told, and nothing is lost.
        var sheet = new RoomSheet { Id = Guid.NewGuid(), RoomId = room, Name = name, Version = (newest?.Version ?? 0) + 1, Json = json, By = by, At = DateTimeOffset.UtcNow };
        database.RoomSheets.Add(sheet);
        try
        {
            await database.SaveChangesAsync(stop);
            return sheet;
        }
        catch (DbUpdateException problem) when (problem.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            database.Entry(sheet).State = EntityState.Detached;
            throw new BadInputException(SheetCodes.KeptMeanwhile, name, string.Empty, "Somebody else kept a sheet of this name at the same moment.", "Look at it, and keep yours again.");
        }
    }
}
