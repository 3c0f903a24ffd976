using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Returning;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Links;

/// <summary>What files that came back are of: looking at them is begun, read and put to use here.</summary>
public sealed class CameBackDesk(LyroContext database, WorkBook work, DeskLoader desks, TimeProvider clock)
{
    private static readonly JsonSerializerOptions s_json = new() { Converters = { new JsonStringEnumConverter() } };

    /// <summary>Begins to look at what waits at a link; one look that is at work goes on.</summary>
    public Task BeginAsync(PackageLink link, Account person, CancellationToken stop) =>
        work.BeginAsync(new ReturnCheck { Id = Guid.NewGuid(), LinkId = link.Id, At = clock.GetUtcNow(), By = person.Name }, stop);

    /// <summary>Stops a look that is at work.</summary>
    public Task StopAsync(PackageLink link, CancellationToken stop) =>
        WorkBook.StopAsync(database.ReturnChecks.Where(c => c.LinkId == link.Id && (c.State == WorkState.Waiting || c.State == WorkState.Working)), stop);

    /// <summary>The newest look at what came back by each of some links.</summary>
    public async Task<IReadOnlyDictionary<Guid, ReturnCheck>> OfAsync(IReadOnlyList<Guid> links, CancellationToken stop)
    {
        var all = database.ReturnChecks.AsNoTracking();
        return await all.Where(c => links.Contains(c.LinkId) && !all.Any(o => o.LinkId == c.LinkId && o.At > c.At)).ToDictionaryAsync(c => c.LinkId, stop);
    }

    /// <summary>What is kept of a report.</summary>
    public static string Kept(IReadOnlyList<CameBackRow> rows) => JsonSerializer.Serialize(rows, s_json);

    /// <summary>The rows of a look; none until it was made.</summary>
    public static IReadOnlyList<CameBackRow> RowsOf(ReturnCheck check) => check.Report is { } kept ? JsonSerializer.Deserialize<List<CameBackRow>>(kept, s_json)! : [];

    /// <summary>Where files of the newest look lie in the session in force, for those that are to be put there.</summary>
    /// <param name="link">That they came by.</param>
    /// <param name="desk">Opened at the revision in force.</param>
    /// <param name="names">Of files that are put at their places.</param>
    /// <param name="stop">Stops the asking.</param>
    public async Task<IReadOnlyList<PlacedFile>> PlacesAsync(PackageLink link, Desk desk, IReadOnlyList<string> names, CancellationToken stop)
    {
        if (names.Count == 0 || (await OfAsync([link.Id], stop)).GetValueOrDefault(link.Id) is not { } check)
        {
            return [];
        }

        // What was thrown away and came again is another file.
        var here = await database.ReturnedFiles.AsNoTracking().Where(f => f.LinkId == link.Id && f.CheckId == null && f.State == ReturnState.Here).Select(f => f.Id).ToListAsync(stop);

        // The session that the package was made of may begin at another time than the one in force.
        var then = (await desks.PlanAsync(await database.Builds.AsNoTracking().SingleAsync(b => b.Id == link.BuildId, stop), stop)).Plan.Session;
        return [.. RowsOf(check).Where(r => r.HasPlace && here.Contains(r.File) && names.Contains(r.Name)).Select(r => new PlacedFile(r.Name, Now(r), r.TrueRate))];

        long Now(CameBackRow row)
        {
            var sample = SoundFileFacts.RateOf(row.Rate).Convert(row.Sample!.Value, then.Rate);
            return then.Start == desk.Session.Start && then.Rate == desk.Session.Rate ? sample : desk.Session.TimecodeScale.SampleOfTimeReference(then.TimecodeScale.TimeReference(sample, then.Rate), then.Rate);
        }
    }
}
