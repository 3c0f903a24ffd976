using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Keys;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages;

/// <summary>What happened in the engineer's rooms: who came in, who was refused, what was fetched and deleted.</summary>
public sealed class RoomLogModel(LyroContext database, DeskLoader desks, RoomAccess access, RoomKeys keys, RoomLog log) : PersonPage(desks, access)
{
    private const int Most = 100;

    public IReadOnlyList<RoomEvent> Lines { get; private set; } = [];

    /// <summary>Where the next page begins; null on the last.</summary>
    public long? Earlier { get; private set; }

    /// <summary>Whether somebody should look at it.</summary>
    public static bool IsWorrying(RoomEventKind kind) => kind is RoomEventKind.Refused or RoomEventKind.Locked;

    /// <summary>A line in words.</summary>
    public static string Words(RoomEvent line)
    {
        var kind = line.Kind switch
        {
            RoomEventKind.SignedIn => "signed in",
            RoomEventKind.SignedOut => "signed out",
            RoomEventKind.Refused => "refused",
            RoomEventKind.Locked => "locked",
            RoomEventKind.Fetched => "fetched",
            RoomEventKind.Deleted => "deleted",
            _ => "changed",
        };
        return line.What.Length > 0 ? $"{kind}: {line.What}" : kind;
    }

    /// <summary>The keys of each room, the one in use first.</summary>
    public IReadOnlyList<(Room Room, IReadOnlyList<RoomKey> Keys)> Keys { get; private set; } = [];

    /// <summary>Puts a new key in the place of a room's key in use.</summary>
    public async Task<IActionResult> OnPostRotateAsync(Guid room, CancellationToken stop)
    {
        if (Rooms.All(r => r.Id != room))
        {
            return NotFound();
        }

        var key = await keys.RotateAsync(room, stop);
        await log.NoteAsync(room, Engineer, RoomEventKind.Changed, $"the key that packages are signed with is now {key.Words}");
        return RedirectToPage();
    }

    public async Task OnGetAsync(long? before, CancellationToken stop)
    {
        var rooms = Rooms.Select(r => r.Id).ToList();
        var lines = await database.RoomEvents.AsNoTracking().Where(e => rooms.Contains(e.RoomId) && (before == null || e.Id < before)).OrderByDescending(e => e.Id).Take(Most + 1).ToListAsync(stop);
        Keys = await KeysAsync(stop);
        Earlier = lines.Count > Most ? lines[Most - 1].Id : null;

        // Some are written a moment after they happened.
        Lines = [.. lines.Take(Most).OrderByDescending(l => l.At)];
    }

    // A room that never built anything has a key from now on, so that its fingerprint can be told beforehand.
    private async Task<IReadOnlyList<(Room, IReadOnlyList<RoomKey>)>> KeysAsync(CancellationToken stop)
    {
        var all = new List<(Room, IReadOnlyList<RoomKey>)>();
        foreach (var room in Rooms)
        {
            await keys.OfAsync(room.Id, stop);
            all.Add((room, await keys.AllAsync(room.Id, stop)));
        }

        return all;
    }
}
