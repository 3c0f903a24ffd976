using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage.Store;

/// <summary>
/// Who takes something into the store, or relies on what is there, and who lets go of it take turns, across all processes: what one finds there is there until its transaction ends.
/// Many may take at once; one lets go alone.
/// </summary>
internal static class StoreTurns
{
    // Of our own among the locks of the database that programs agree on.
    private const long Lock = 0x4C79726F53746F72;

    public static Task ToTakeAsync(LyroContext database, CancellationToken stop) => database.Database.ExecuteSqlAsync($"SELECT pg_advisory_xact_lock_shared({Lock})", stop);

    public static Task ToLetGoAsync(LyroContext database, CancellationToken stop) => database.Database.ExecuteSqlAsync($"SELECT pg_advisory_xact_lock({Lock})", stop);
}
