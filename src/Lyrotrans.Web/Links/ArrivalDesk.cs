using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Naming;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Jobs;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Lyrotrans.Web.Links;

/// <summary>Comparisons of what receivers exported again with what was sent: they are begun, get their files by <see cref="ReturnDesk"/>, run behind the page, and are read by both sides.</summary>
public sealed class ArrivalDesk(LyroContext database, ReturnDesk returns, WorkBook work, TimeProvider clock)
{
    /// <summary>So many comparisons are made by one link.</summary>
    public const int Most = 100;

    // Of each link.
    private const int Shown = 5;

    private static readonly JsonSerializerOptions s_json = new() { Converters = { new JsonStringEnumConverter() } };

    /// <summary>Begins one. What came for one before that was never begun is let go.</summary>
    /// <returns>The comparison, or why there is none, in words.</returns>
    public async Task<(ArrivalCheck? Check, string? Problem)> BeginAsync(PackageLink link, CancellationToken stop)
    {
        if (await database.ArrivalChecks.CountAsync(c => c.LinkId == link.Id, stop) >= Most)
        {
            return (null, $"{Digits.Grouped(Most)} comparisons were made by this link already. Ask the sender for another one.");
        }

        foreach (var left in await database.ArrivalChecks.AsNoTracking().Where(c => c.LinkId == link.Id && c.State == WorkState.Receiving).ToListAsync(stop))
        {
            // Stopped first: from then on it takes no file.
            await database.ArrivalChecks.Where(c => c.Id == left.Id && c.State == WorkState.Receiving).ExecuteUpdateAsync(c => c.SetProperty(x => x.State, WorkState.Stopped).SetProperty(x => x.Doing, "another one was begun"), stop);
            await returns.RemoveAsync(left, stop);
        }

        var check = new ArrivalCheck { Id = Guid.NewGuid(), LinkId = link.Id, At = clock.GetUtcNow(), State = WorkState.Receiving, Doing = "on its way" };
        database.ArrivalChecks.Add(check);
        try
        {
            await database.SaveChangesAsync(stop);
            return (check, null);
        }
        catch (DbUpdateException problem) when (problem.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            database.Entry(check).State = EntityState.Detached;
            return (null, "A comparison is at work by this link. Wait until it has ended.");
        }
    }

    /// <summary>All files are here: compares them.</summary>
    /// <returns>Why not, in words; null where it is begun.</returns>
    public async Task<string?> CompareAsync(PackageLink link, Guid check, CancellationToken stop)
    {
        if (await FindAsync(link, check, stop) is not { State: WorkState.Receiving } found)
        {
            return "This comparison was begun or stopped already.";
        }

        var files = await database.ReturnedFiles.AsNoTracking().Where(f => f.CheckId == check && (f.State == ReturnState.Here || f.State == ReturnState.Receiving)).ToListAsync(stop);
        if (files.Count == 0 || files.Exists(f => f.State == ReturnState.Receiving))
        {
            return files.Count == 0 ? "No file came. Drop what you exported." : $"{Phrases.First([.. files.Where(f => f.State == ReturnState.Receiving).Select(f => f.Name)])} did not come whole. Drop everything again.";
        }

        var what = $"{Phrases.Count(files.Count, "file")}, {Digits.Bytes(files.Sum(f => f.Length))}";
        await database.ArrivalChecks.Where(c => c.Id == check).ExecuteUpdateAsync(c => c.SetProperty(x => x.What, what), stop);
        await work.BeginAsync(found, stop);
        return null;
    }

    /// <summary>A comparison of a link.</summary>
    public Task<ArrivalCheck?> FindAsync(PackageLink link, Guid check, CancellationToken stop) => database.ArrivalChecks.AsNoTracking().SingleOrDefaultAsync(c => c.Id == check && c.LinkId == link.Id, stop);

    /// <summary>The newest comparisons by each of some links that were begun, the newest first; what came of all of them stands in what happened at the link.</summary>
    public Task<List<ArrivalCheck>> OfAsync(IReadOnlyList<Guid> links, CancellationToken stop)
    {
        var begun = database.ArrivalChecks.AsNoTracking().Where(c => c.State != WorkState.Receiving && c.State != WorkState.Stopped);
        return begun.Where(c => links.Contains(c.LinkId) && begun.Count(o => o.LinkId == c.LinkId && o.At > c.At) < Shown).OrderByDescending(c => c.At).ToListAsync(stop);
    }

    /// <summary>What is kept of a report.</summary>
    public static string Kept(ArrivalReport report) => JsonSerializer.Serialize(report, s_json);

    /// <summary>The report of a comparison; null where it has none.</summary>
    public static ArrivalReport? ReportOf(ArrivalCheck check) => check.Report is { } kept ? JsonSerializer.Deserialize<ArrivalReport>(kept, s_json) : null;
}
