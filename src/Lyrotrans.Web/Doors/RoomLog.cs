using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Text;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Doors;

/// <summary>Writes the rooms' logs.</summary>
public sealed class RoomLog(IServiceScopeFactory scopes, IHttpContextAccessor current, Later later, TimeProvider clock, ILogger<RoomLog> log)
{
    /// <summary>Notes what a person did, or what was tried at their account, in each of their rooms.</summary>
    public Task NoteAsync(Account person, RoomEventKind kind, string what = "") =>
        WriteAsync(clock.GetUtcNow(), person.Name, kind, what, AddressOf(current.HttpContext), database => database.Memberships.Where(m => m.AccountId == person.Id).Select(m => m.RoomId));

    /// <summary>Notes what was tried at an account, after the answer has gone: it must not take longer than for one that is not there.</summary>
    public void NoteLater(Account person, RoomEventKind kind, string what = "")
    {
        var (now, address) = (clock.GetUtcNow(), AddressOf(current.HttpContext));
        later.Do(_ => WriteAsync(now, person.Name, kind, what, address, database => database.Memberships.Where(m => m.AccountId == person.Id).Select(m => m.RoomId)));
    }

    /// <summary>Notes what a person did in a room.</summary>
    public Task NoteAsync(Guid room, Account person, RoomEventKind kind, string what) =>
        WriteAsync(clock.GetUtcNow(), person.Name, kind, what, AddressOf(current.HttpContext), database => database.Rooms.Where(r => r.Id == room).Select(r => r.Id));

    /// <summary>Notes what the application did in a room by itself.</summary>
    public Task NoteAsync(Guid room, RoomEventKind kind, string what) => WriteAsync(clock.GetUtcNow(), "Lyrotrans", kind, what, string.Empty, database => database.Rooms.Where(r => r.Id == room).Select(r => r.Id));

    private static string AddressOf(HttpContext? context) => context?.Connection.RemoteIpAddress?.ToString() ?? string.Empty;

    private async Task WriteAsync(DateTimeOffset at, string who, RoomEventKind kind, string what, string address, Func<LyroContext, IQueryable<Guid>> rooms)
    {
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            var database = scope.ServiceProvider.GetRequiredService<LyroContext>();
            foreach (var room in await rooms(database).ToListAsync())
            {
                database.RoomEvents.Add(new RoomEvent { RoomId = room, At = at, Kind = kind, Who = who, What = Shown.Line(what, 300), Address = address });
            }

            await database.SaveChangesAsync();
        }
        catch (Exception problem) when (problem is DbUpdateException or Npgsql.NpgsqlException or InvalidOperationException)
        {
            // What was done is done; that it is not in the room's log stands in the server's.
            log.LogError(problem, "The room's log could not be written: {Kind} {What}", kind, what);
        }
    }
}
