using System.Security.Claims;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
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
    /// <param name="user">Who asks.</param>
    /// <param name="transferId">Which transfer.</param>
    /// <param name="to">Which receiver; none, or one that left, is the first.</param>
    /// <param name="stop">Stops it.</param>
    public async Task<Desk?> OpenAsync(ClaimsPrincipal user, Guid transferId, string? to, CancellationToken stop)
    {
        var engineer = await EngineerAsync(user, stop);
        var transfer = await access.Transfers(engineer.Id).SingleOrDefaultAsync(t => t.Id == transferId, stop);
        var desk = transfer is null ? null : await OpenAsync(transfer, engineer, stop);
        return desk is null || string.IsNullOrEmpty(to) || desk.Receivers[to] is not { } receiver ? desk : desk with { Receiver = receiver };
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
            var one = ReceiverList.One(transfer.Receiver, Preparation.Default(s_empty, SessionFormats.Usual));
            return new Desk(transfer, room, engineer, null, new IntakeState { SessionName = transfer.Name }, s_empty with { Name = transfer.Name }, one, one.First, media);
        }

        var (intake, session, receivers) = (IntakeOf(transfer.RoomId, revision), SessionOf(transfer.RoomId, revision), ReceiversOf(transfer.RoomId, revision));
        receivers = receivers is { IsOne: true, First.Name: "" } ? receivers.With(receivers.First with { Name = transfer.Receiver }) : receivers;
        return new Desk(transfer, room, engineer, revision, intake, session, receivers, receivers.First, Expecting(media, intake, session));
    }

    /// <summary>How a desk's sources were joined.</summary>
    public JoinedSession Joined(Desk desk) => desk.Revision is { } revision ? cache.Get(desk.Room.Id, revision.IntakeSha, () => Join(desk.Intake, desk.Media)) : Join(desk.Intake, desk.Media);

    /// <summary>What would go wrong with a desk's session as it goes to its receiver, and what was answered; none for an empty one.</summary>
    public IReadOnlyList<FlagGroup> Flags(Desk desk) => desk.Revision is { } revision
        ? cache.Get<IReadOnlyList<FlagGroup>>(
            desk.Room.Id,
            $"{revision.SessionSha} {revision.IntakeSha} {revision.ReceiversSha} {desk.Receiver.Id} {SoundMeasures.Measured(desk.Session, desk.Media)}",
            () => FlagGroup.Of(new FlagFinder(Facts(desk)).Flags(), desk.Preparation.Answers))
        : [];

    /// <summary>What was measured of a desk's media so far; read once for every set of measured media.</summary>
    public IReadOnlyDictionary<string, MediaSound> Sounds(Desk desk) => desk.Revision is { } revision
        ? cache.Get<IReadOnlyDictionary<string, MediaSound>>(desk.Room.Id, $"{revision.SessionSha} sounds {SoundMeasures.Measured(desk.Session, desk.Media)}", () => SoundMeasures.FromStore(desk.Session, desk.Media))
        : SoundMeasures.FromStore(desk.Session, desk.Media);

    /// <summary>What would be delivered; planned once for every revision and set of measured media.</summary>
    public DeliveryPlan Plan(Desk desk) => desk.Revision is { } revision
        ? cache.Get(
            desk.Room.Id, $"{revision.SessionSha} {revision.ReceiversSha} {desk.Receiver.Id} {SoundMeasures.Measured(desk.Session, desk.Media)}", () => DeliveryPlan.Make(desk.Session, desk.Preparation, Sounds(desk)))
        : DeliveryPlan.Make(desk.Session, desk.Preparation, Sounds(desk));

    /// <summary>What a build follows, by the revision that it is of; planned once.</summary>
    public async Task<PlannedBuild> PlanAsync(PackageBuild build, CancellationToken stop)
    {
        var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == build.TransferId, stop);
        var revision = await database.Revisions.AsNoTracking().SingleAsync(r => r.TransferId == build.TransferId && r.Number == build.Revision, stop);
        var session = SessionOf(transfer.RoomId, revision);
        var media = Expecting(rooms.Of(transfer.RoomId), null, session);

        var receiver = ReceiversOf(transfer.RoomId, revision)[build.ReceiverId] ?? throw new InvalidOperationException($"Revision {revision.Number} has no receiver {build.ReceiverId}.");
        return cache.Get(transfer.RoomId, $"{revision.SessionSha} {revision.ReceiversSha} {build.ReceiverId} built", () =>
        {
            // Who builds at once after files came in builds of all that is known of them.
            SoundMeasures.EnsureAll(session, media, stop);
            return new PlannedBuild(DeliveryPlan.Make(session, receiver.Preparation, SoundMeasures.FromStore(session, media)), media);
        });
    }

    /// <summary>How far a plan's grid would stray from the sound in each form of tempo; kept, because a long piece takes a while to measure.</summary>
    public IReadOnlyDictionary<TempoForm, TempoDrift> Drifts(Desk desk, DeliveryPlan plan) =>
        cache.Get(desk.Room.Id, $"{desk.Revision!.SessionSha} {plan.TimelineRange.Start} at {plan.Timeline.Rate} drifts", () => MeantMidi.Drifts(plan));

    /// <summary>Keeps a new state of a transfer.</summary>
    /// <exception cref="Core.Errors.BadInputException">The new state could not be read again; nothing was kept.</exception>
    public Task<Revision> CommitAsync(Desk desk, string words, IntakeState? intake = null, Session? session = null, ReceiverList? receivers = null, CancellationToken stop = default)
    {
        var changed = new RevisionDocuments(
            (intake ?? desk.Intake).ToJson(), SessionDocumentWriter.Write(session ?? desk.Session), ReceiversDocument.Write(receivers ?? desk.Receivers));

        // A revision that cannot be opened would lock everyone out of the transfer.
        if (session is not null)
        {
            using var written = new MemoryStream(changed.Session);
            SessionDocumentReader.Read(written, "the session that these sources make");
        }

        ReceiversDocument.Read(changed.Receivers, "the receivers");
        return revisions.CommitAsync(desk.Id, desk.Revision?.Number ?? 0, words, desk.Engineer.Name, changed, stop);
    }

    /// <summary>Joins everything again after the intake changed, and keeps it.</summary>
    public async Task<Revision> CommitIntakeAsync(Desk desk, string words, IntakeState intake, CancellationToken stop)
    {
        var joined = Join(intake, desk.Media);
        var session = joined.Session;
        EdgeMeasures.Ensure(session, desk.Media, stop);
        var receivers = desk.IsEmpty || desk.Session.Tracks.Count == 0 ? desk.Receivers.Preparing(Preparation.Default(session, SessionFormats.Usual)) : desk.Receivers.For(session, desk.Session);
        var revision = await CommitAsync(desk, words, intake, session, receivers, stop);
        _ = cache.Get(desk.Room.Id, revision.IntakeSha, () => joined);
        return revision;
    }

    private FlagFacts Facts(Desk desk) => new(desk.Session, desk.Preparation)
    {
        Sounds = Sounds(desk),
        Tempo = cache.Get(desk.Room.Id, $"{desk.Revision!.SessionSha} tempo {SoundMeasures.Measured(desk.Session, desk.Media)}", () => new MeasuredTempo(SoundMeasures.Tempo(desk.Session, desk.Media))).Estimate,
        Rates = Joined(desk).RateDoubts,
        SaysTempo = Joined(desk).SaysTempo,

        // Only a bound on files needs them, and a plan takes a while.
        Files = desk.Preparation.Sheet?.LargestFile is null ? [] : Plan(desk).Files,
        Lossy = Lossy(desk),
        Levels = Measured(desk, SoundMeasures.KnownLevels),
        Faults = Measured(desk, SoundMeasures.Faults),
        Edges = Measured(desk, EdgeMeasures.FromStore),
    };

    // Read once for every set of measured media: a preparation that changes changes nothing of it.
    private IReadOnlyDictionary<string, T> Measured<T>(Desk desk, Func<Session, IMediaStore, IReadOnlyDictionary<string, T>> read) =>
        cache.Get(desk.Room.Id, $"{desk.Revision!.SessionSha} measured {SoundMeasures.Measured(desk.Session, desk.Media)}", () => read(desk.Session, desk.Media));

    // By their bytes: a document calls its media by ids of its own.
    private static HashSet<string> Lossy(Desk desk)
    {
        var files = desk.Intake.Items.Where(i => i.Findings.Any(f => f.Code == SoundFileCodes.Lossy)).Select(i => i.Sha256).ToHashSet();
        return [.. desk.Session.Media.Where(m => m.Sha256 is { } sha256 && files.Contains(sha256)).Select(m => m.Id)];
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

    private sealed record MeasuredTempo(TempoEstimate? Estimate);

    private ReceiverList ReceiversOf(Guid room, Revision revision) => cache.Get(room, revision.ReceiversSha, () => ReceiversDocument.Read(documents.Receivers(revision), "the receivers"));

    private IntakeState IntakeOf(Guid room, Revision revision) => cache.Get(room, revision.IntakeSha, () => IntakeState.FromJson(documents.Intake(revision)));
}
