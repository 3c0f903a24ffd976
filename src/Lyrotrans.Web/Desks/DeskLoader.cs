using System.Security.Claims;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Storage.Store;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Desks;

/// <summary>Opens transfers: only those of the engineer's own rooms, with only the media that the transfer's room brought in.</summary>
public sealed class DeskLoader(
    LyroContext database, UserManager<Account> accounts, RoomAccess access, RoomMediaStores rooms, DocumentStore documents, DocumentCache cache, RevisionLog revisions)
{
    private static readonly Session s_empty = new() { Name = "Session" };

    /// <summary>The account of whoever asks.</summary>
    public Guid IdOf(ClaimsPrincipal user) => Guid.Parse(accounts.GetUserId(user)!);

    public async Task<Account> EngineerAsync(ClaimsPrincipal user, CancellationToken stop)
    {
        var id = IdOf(user);
        return await database.Users.SingleAsync(u => u.Id == id, stop);
    }

    /// <summary>The desk of a transfer, or null where none of the engineer's rooms has one of that id.</summary>
    public async Task<Desk?> OpenAsync(ClaimsPrincipal user, Guid transferId, CancellationToken stop)
    {
        var engineer = await EngineerAsync(user, stop);
        var transfer = await access.Transfers(engineer.Id).SingleOrDefaultAsync(t => t.Id == transferId, stop);
        return transfer is null ? null : await OpenAsync(transfer, engineer, stop);
    }

    /// <summary>The desk of a transfer that its engineer may see.</summary>
    public async Task<Desk> OpenAsync(Transfer transfer, Account engineer, CancellationToken stop)
    {
        var room = await database.Rooms.AsNoTracking().SingleAsync(r => r.Id == transfer.RoomId, stop);
        var revision = await database.Revisions.AsNoTracking().SingleOrDefaultAsync(r => r.TransferId == transfer.Id && r.Number == transfer.Current, stop);
        return Make(transfer, room, engineer, revision);
    }

    /// <summary>The desk as it was at a revision.</summary>
    public Desk Make(Transfer transfer, Room room, Account engineer, Revision? revision)
    {
        var media = rooms.Of(transfer.RoomId);
        if (revision is null)
        {
            return new Desk(transfer, room, engineer, null, new IntakeState { SessionName = transfer.Name }, s_empty with { Name = transfer.Name }, Preparation.Default(s_empty, SessionFormats.Usual), media);
        }

        var (intake, session) = (IntakeOf(transfer.RoomId, revision), SessionOf(transfer.RoomId, revision));
        return new Desk(transfer, room, engineer, revision, intake, session, PreparationOf(transfer.RoomId, revision), Expecting(media, intake, session));
    }

    /// <summary>How a desk's sources were joined.</summary>
    public JoinedSession Joined(Desk desk) => desk.Revision is { } revision ? cache.Get(desk.Room.Id, revision.IntakeSha, () => Join(desk.Intake, desk.Media)) : Join(desk.Intake, desk.Media);

    /// <summary>What would go wrong with a desk's session; none for an empty one.</summary>
    public IReadOnlyList<Flag> Flags(Desk desk) => desk.Revision is { } revision
        ? cache.Get<IReadOnlyList<Flag>>(
            desk.Room.Id, $"{revision.SessionSha} {revision.IntakeSha} {SoundMeasures.Measured(desk.Session, desk.Media)}", () => new FlagFinder(desk.Session, Sounds(desk), SoundMeasures.Tempo(desk.Session, desk.Media), Joined(desk).RateDoubts, Joined(desk).SaysTempo).Flags())
        : [];

    /// <summary>What was measured of a desk's media so far; read once for every set of measured media.</summary>
    public IReadOnlyDictionary<string, MediaSound> Sounds(Desk desk) => desk.Revision is { } revision
        ? cache.Get<IReadOnlyDictionary<string, MediaSound>>(desk.Room.Id, $"{revision.SessionSha} sounds {SoundMeasures.Measured(desk.Session, desk.Media)}", () => SoundMeasures.FromStore(desk.Session, desk.Media))
        : SoundMeasures.FromStore(desk.Session, desk.Media);

    /// <summary>What would be delivered; planned once for every revision and set of measured media.</summary>
    public DeliveryPlan Plan(Desk desk) => desk.Revision is { } revision
        ? cache.Get(
            desk.Room.Id, $"{revision.SessionSha} {revision.PreparationSha} {SoundMeasures.Measured(desk.Session, desk.Media)}", () => DeliveryPlan.Make(desk.Session, desk.Preparation, Sounds(desk)))
        : DeliveryPlan.Make(desk.Session, desk.Preparation, Sounds(desk));

    /// <summary>What a build follows, by the revision that it is of.</summary>
    public async Task<PlannedBuild> PlanAsync(PackageBuild build, CancellationToken stop)
    {
        var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == build.TransferId, stop);
        var revision = await database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == build.TransferId && r.Number == build.Revision, stop);
        var session = SessionOf(transfer.RoomId, revision);
        var media = Expecting(rooms.Of(transfer.RoomId), null, session);

        // Who builds at once after files came in builds of all that is known of them.
        SoundMeasures.EnsureAll(session, media, stop);
        return new PlannedBuild(DeliveryPlan.Make(session, PreparationOf(transfer.RoomId, revision), SoundMeasures.FromStore(session, media)), media);
    }

    /// <summary>How far a plan's grid would stray from the sound in each form of tempo; kept, because a long piece takes a while to measure.</summary>
    public IReadOnlyDictionary<TempoForm, TempoDrift> Drifts(Desk desk, DeliveryPlan plan) =>
        cache.Get(desk.Room.Id, $"{desk.Revision!.SessionSha} {plan.Range.Start} drifts", () => MeantMidi.Drifts(plan));

    /// <summary>Keeps a new state of a transfer.</summary>
    /// <exception cref="Core.Errors.BadInputException">The new state could not be read again; nothing was kept.</exception>
    public Task<Revision> CommitAsync(Desk desk, string words, IntakeState? intake = null, Session? session = null, Preparation? preparation = null, CancellationToken stop = default)
    {
        var changed = new RevisionDocuments(
            (intake ?? desk.Intake).ToJson(), SessionDocumentWriter.Write(session ?? desk.Session), PreparationDocument.Write(preparation ?? desk.Preparation));

        // A revision that cannot be opened would lock everyone out of the transfer.
        if (session is not null)
        {
            using var written = new MemoryStream(changed.Session);
            SessionDocumentReader.Read(written, "the session that these sources make");
        }

        PreparationDocument.Read(changed.Preparation, "the preparation");
        return revisions.CommitAsync(desk.Id, desk.Revision?.Number ?? 0, words, desk.Engineer.Name, changed, stop);
    }

    /// <summary>Joins everything again after the intake changed, and keeps it.</summary>
    public async Task<Revision> CommitIntakeAsync(Desk desk, string words, IntakeState intake, CancellationToken stop)
    {
        var joined = Join(intake, desk.Media);
        var session = joined.Session;
        var preparation = desk.IsEmpty || desk.Session.Tracks.Count == 0 ? Preparation.Default(session, SessionFormats.Usual) : desk.Preparation.For(session, desk.Session);
        var revision = await CommitAsync(desk, words, intake, session, preparation, stop);
        _ = cache.Get(desk.Room.Id, revision.IntakeSha, () => joined);
        return revision;
    }

    private static JoinedSession Join(IntakeState state, RoomMedia media)
    {
        media.Expecting(state.Items.Select(i => i.Sha256));
        return SessionJoin.Join(state, sha256 => media.FileOf(sha256).Open());
    }

    private static RoomMedia Expecting(RoomMedia media, IntakeState? intake, Session session) =>
        media.Expecting((intake?.Items.Select(i => i.Sha256) ?? []).Concat(session.Media.Select(m => m.Sha256).OfType<string>()));

    private Session SessionOf(Guid room, Revision revision) => cache.Get(room, revision.SessionSha, () =>
    {
        using var stream = new MemoryStream(documents.Session(revision));
        return SessionDocumentReader.Read(stream, "the session");
    });

    private Preparation PreparationOf(Guid room, Revision revision) => cache.Get(room, revision.PreparationSha, () => PreparationDocument.Read(documents.Preparation(revision), "the preparation"));

    private IntakeState IntakeOf(Guid room, Revision revision) => cache.Get(room, revision.IntakeSha, () => IntakeState.FromJson(documents.Intake(revision)));
}
