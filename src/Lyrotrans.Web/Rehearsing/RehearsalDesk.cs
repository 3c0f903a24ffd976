using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Rehearsing;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Workflow.Rehearsing;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Rehearsing;

/// <summary>Packages that are read back as their receivers would read them: begun, stopped and shown here.</summary>
public sealed class RehearsalDesk(LyroContext database, WorkBook work, TimeProvider clock)
{
    private static readonly JsonSerializerOptions s_json = new() { Converters = { new JsonStringEnumConverter() }, NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals };

    /// <summary>Begins to read a package back; one that is at work goes on.</summary>
    public Task BeginAsync(PackageBuild build, ReadingLimits limits, Account person, CancellationToken stop) =>
        work.BeginAsync(new RehearsalRun { Id = Guid.NewGuid(), BuildId = build.Id, At = clock.GetUtcNow(), By = person.Name, Limits = JsonSerializer.Serialize(limits, s_json) }, stop);

    /// <summary>Stops what is at work for a package.</summary>
    public Task StopAsync(PackageBuild build, CancellationToken stop) =>
        WorkBook.StopAsync(database.RehearsalRuns.Where(r => r.BuildId == build.Id && (r.State == WorkState.Waiting || r.State == WorkState.Working)), stop);

    /// <summary>The newest of each of some packages.</summary>
    public async Task<IReadOnlyDictionary<Guid, RehearsalRun>> OfAsync(IReadOnlyList<Guid> builds, CancellationToken stop)
    {
        var all = database.RehearsalRuns.AsNoTracking();
        return await all.Where(r => builds.Contains(r.BuildId) && !all.Any(o => o.BuildId == r.BuildId && o.At > r.At)).ToDictionaryAsync(r => r.BuildId, stop);
    }

    /// <summary>What is kept of a report.</summary>
    public static string Kept(RehearsalReport report) => JsonSerializer.Serialize(report, s_json);

    /// <summary>The report; null until the package was read.</summary>
    public static RehearsalReport? ReportOf(RehearsalRun run) => run.Report is { } kept ? JsonSerializer.Deserialize<RehearsalReport>(kept, s_json) : null;

    /// <summary>How a run reads.</summary>
    public static ReadingLimits LimitsOf(RehearsalRun run) => JsonSerializer.Deserialize<ReadingLimits>(run.Limits, s_json)!;

    /// <summary>What the sheet of a receiver says of how its room reads.</summary>
    /// <param name="receiver">As it was when the package was built.</param>
    /// <param name="plan">That the package was built by.</param>
    public static ReadingLimits LimitsOf(Receiver receiver, DeliveryPlan plan)
    {
        if (receiver.Sheet is not { } json)
        {
            return ReadingLimits.None;
        }

        var sheet = ReceiverSheet.Read(Encoding.UTF8.GetBytes(json), receiver.Called);
        return ReadingLimits.Of(sheet.Apply(Preparation.Default(plan.Session, SessionFormats.Usual), plan.Session), plan.Clips is null ? null : plan.Preparation.Clips.Format);
    }
}
