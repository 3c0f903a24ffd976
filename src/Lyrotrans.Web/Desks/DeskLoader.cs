using System.Security.Claims;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Store;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Desks;

/// <summary>Opens transfers: only those of the engineer's own room.</summary>
public sealed class DeskLoader(LyroContext database, UserManager<Account> accounts, MediaStore store, DocumentCache cache, RevisionLog revisions)
{
    private static readonly Session s_empty = new() { Name = "Session" };

    public async Task<Account> EngineerAsync(ClaimsPrincipal user, CancellationToken stop)
    {
        var id = Guid.Parse(accounts.GetUserId(user)!);
        return await database.Users.Include(u => u.Room).SingleAsync(u => u.Id == id, stop);
    }

    /// <summary>The desk of a transfer, or null where this room has none of that id.</summary>
    public async Task<Desk?> OpenAsync(ClaimsPrincipal user, Guid transferId, CancellationToken stop)
    {
        var engineer = await EngineerAsync(user, stop);
        var transfer = await database.Transfers.AsNoTracking().SingleOrDefaultAsync(t => t.Id == transferId && t.RoomId == engineer.RoomId, stop);
        if (transfer is null)
        {
            return null;
        }

        var revision = await database.Revisions.AsNoTracking().SingleOrDefaultAsync(r => r.TransferId == transferId && r.Number == transfer.Current, stop);
        return Make(transfer, engineer.Room!, engineer, revision);
    }

    /// <summary>The desk as it was at a revision.</summary>
    public Desk Make(Transfer transfer, Room room, Account engineer, Revision? revision) => revision is null
        ? new Desk(transfer, room, engineer, null, new IntakeState { SessionName = transfer.Name }, s_empty with { Name = transfer.Name }, Preparation.Default(s_empty))
        : new Desk(transfer, room, engineer, revision, Intake(revision.IntakeSha), SessionOf(revision.SessionSha), PreparationOf(revision.PreparationSha));

    public Session SessionOf(string sha256) => cache.Get(sha256, () =>
    {
        using var stream = File.OpenRead(store.PathOf(sha256));
        return SessionDocumentReader.Read(stream, "the session");
    });

    public Preparation PreparationOf(string sha256) => cache.Get(sha256, () => PreparationDocument.Read(File.ReadAllBytes(store.PathOf(sha256)), "the preparation"));

    public JoinedSession Join(IntakeState state) => SessionJoin.Join(state, sha256 => File.OpenRead(store.PathOf(sha256)));

    /// <summary>How a desk's sources were joined.</summary>
    public JoinedSession Joined(Desk desk) => desk.Revision is { } revision ? cache.Get(revision.IntakeSha, () => Join(desk.Intake)) : Join(desk.Intake);

    /// <summary>What would go wrong with a desk's session; none for an empty one.</summary>
    public IReadOnlyList<Flag> Flags(Desk desk) => desk.Revision is { } revision
        ? cache.Get<IReadOnlyList<Flag>>($"{revision.SessionSha} {revision.IntakeSha}", () => new FlagFinder(desk.Session, Sounds(desk.Session), SoundMeasures.Tempo(desk.Session, store), Joined(desk).RateDoubts).Find())
        : [];

    public IReadOnlyDictionary<string, MediaSound> Sounds(Session session) => SoundMeasures.FromStore(session, store);

    public DeliveryPlan Plan(Desk desk) => DeliveryPlan.Make(desk.Session, desk.Preparation, Sounds(desk.Session));

    /// <summary>The plan that a build follows, by the revision that it is of.</summary>
    public async Task<DeliveryPlan> PlanAsync(PackageBuild build, CancellationToken stop)
    {
        var revision = await database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == build.TransferId && r.Number == build.Revision, stop);
        var session = SessionOf(revision.SessionSha);
        return DeliveryPlan.Make(session, PreparationOf(revision.PreparationSha), Sounds(session));
    }

    /// <summary>How far a plan's grid would stray from the sound; kept, because a long piece takes a while to measure.</summary>
    public TempoDrift Drift(Desk desk, DeliveryPlan plan, TempoForm form) =>
        cache.Get($"{desk.Revision!.SessionSha} {plan.Range.Start} {form}", () => MeantMidi.Drift(plan, form));

    /// <summary>Keeps a new state of a transfer.</summary>
    /// <exception cref="Core.Errors.BadInputException">The new state could not be read again; nothing was kept.</exception>
    public Task<Revision> CommitAsync(Desk desk, string words, IntakeState? intake = null, Session? session = null, Preparation? preparation = null, CancellationToken stop = default)
    {
        var documents = new RevisionDocuments(
            (intake ?? desk.Intake).ToJson(), SessionDocumentWriter.Write(session ?? desk.Session), PreparationDocument.Write(preparation ?? desk.Preparation));

        // A revision that cannot be opened would lock everyone out of the transfer.
        if (session is not null)
        {
            using var written = new MemoryStream(documents.Session);
            SessionDocumentReader.Read(written, "the session that these sources make");
        }

        PreparationDocument.Read(documents.Preparation, "the preparation");
        return revisions.CommitAsync(desk.Id, desk.Revision?.Number ?? 0, words, desk.Engineer.Name, documents, stop);
    }

    /// <summary>Joins everything again after the intake changed, and keeps it.</summary>
    public async Task<Revision> CommitIntakeAsync(Desk desk, string words, IntakeState intake, CancellationToken stop)
    {
        var joined = Join(intake);
        var session = joined.Session;
        var preparation = desk.IsEmpty || desk.Session.Tracks.Count == 0 ? Preparation.Default(session) : desk.Preparation.For(session);
        var revision = await CommitAsync(desk, words, intake, session, preparation, stop);
        _ = cache.Get(revision.IntakeSha, () => joined);
        return revision;
    }

    private IntakeState Intake(string sha256) => cache.Get(sha256, () => IntakeState.FromJson(File.ReadAllBytes(store.PathOf(sha256))));
}
