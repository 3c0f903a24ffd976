using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Pages;

/// <summary>What happened in the engineer's rooms: who came in, who was refused, what was fetched and deleted.</summary>
public sealed class RoomLogModel(LyroContext database, DeskLoader desks, RoomAccess access) : PersonPage(desks, access)
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

    public async Task OnGetAsync(long? before, CancellationToken stop)
    {
        var rooms = Rooms.Select(r => r.Id).ToList();
        var lines = await database.RoomEvents.AsNoTracking().Where(e => rooms.Contains(e.RoomId) && (before == null || e.Id < before)).OrderByDescending(e => e.Id).Take(Most + 1).ToListAsync(stop);
        Earlier = lines.Count > Most ? lines[Most - 1].Id : null;

        // Some are written a moment after they happened.
        Lines = [.. lines.Take(Most).OrderByDescending(l => l.At)];
    }
}
