using Lyrotrans.Audio.Instruments;
using Lyrotrans.Audio.Mix;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Core.Time;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Links;
using Lyrotrans.Web.Listening;
using Lyrotrans.Web.Rehearsing;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Hearing;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Rehearsing;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Endpoints;

/// <summary>Sound to listen to, streamed as it is made: the session from any place, a file of a package, and what was meant, found and between them.</summary>
public static class ListeningEndpoints
{
    /// <summary>Seconds before the run-in from which keys are heard, and after the end until which what rings is.</summary>
    private const int RingSeconds = 2;

    /// <summary>From so long before the place effects are heard: more would make everybody wait, less would be missed.</summary>
    private const int RunInSeconds = 1;

    public static void MapListening(this WebApplication app)
    {
        app.MapGet("/transfers/{id:guid}/listen", SessionAsync);
        app.MapGet("/transfers/{id:guid}/media/{sha256}/listen", MediumAsync);
        app.MapGet("/builds/{id:guid}/listen", FileAsync);
        app.MapGet("/builds/{id:guid}/rehearsal/listen", RehearsedAsync);
        app.MapGet("/builds/{id:guid}/outline", OutlineAsync);
        app.MapGet("/builds/{id:guid}/places", PlacesAsync);
    }

    /// <summary>The mix of what is active, or one track through its effects, from a session sample on; with the grid over it where that is asked for.</summary>
    private static async Task<IResult> SessionAsync(Guid id, long from, string? track, string? click, HttpContext context, DeskLoader desks, ListeningSeats seats, CancellationToken stop)
    {
        if (await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is not { } desk || desk.IsEmpty)
        {
            return Results.NotFound();
        }

        var session = AsTrack(desk.Session, track);
        var roles = TrackRoles.Of(session);
        var paths = SignalPaths.Of(session);
        var target = track is null ? paths.Master : session.Tracks.FirstOrDefault(t => t.Id == track && t.Kind != TrackKind.Picture);
        if (target is null || paths.Circle is not null)
        {
            return Results.Problem(paths.Circle is null ? "There is no such track." : $"These tracks feed each other in a circle, so there is nothing to listen to: {paths.Circle}.", statusCode: StatusCodes.Status400BadRequest);
        }

        var sounding = target.Kind.IsSource() || roles.PrintOf(target.Id) is not null
            ? new HashSet<string> { target.Id }
            : session.Tracks.Where(t => t.State == TrackState.Active && roles.Plays(t)).Select(t => t.Id).ToHashSet();
        from = Math.Clamp(from, 0, session.EndSample);
        return Streamed.Made(
            context,
            seats.TryTake(desk.Engineer.Id),
            output =>
                {
                    var opener = new MediaOpener(new StoredMedia(desk.Media), session.Rate);
                    using var render = new MixRender(
                        session, target, track is null ? MixPoint.AfterPan : MixPoint.AfterEffects, sounding, new MixSounds(opener, new SoundFontSounds(RingSeconds)), from, session.Rate.SamplesIn(RunInSeconds).RoundToEven(),
                        Environment.ProcessorCount);
                    var frames = session.EndSample + session.Rate.SamplesIn(RingSeconds).RoundToEven() - from;
                    var grid = HeardGrid.Of(click, session, desk.Preparation.Click, new SampleRange(from, from + frames));
                    ListeningStream.Write(output, session.Rate, render.Channels, frames, (at, count, into) =>
                    {
                        render.Read(from + at, count, into);
                        grid?.AddTo(at, count, into);
                    }, stop);
                },
            stop);
    }

    /// <summary>A medium as it lies, at its own rate.</summary>
    private static async Task<IResult> MediumAsync(Guid id, string sha256, HttpContext context, DeskLoader desks, ListeningSeats seats, CancellationToken stop)
    {
        if (await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is not { } desk || desk.Session.Media.FirstOrDefault(m => m.Sha256 == sha256 && desk.Media.Holds(m)) is not { } medium)
        {
            return Results.NotFound();
        }

        return Streamed.Made(
            context,
            seats.TryTake(desk.Engineer.Id),
            output =>
            {
                using var file = SoundFile.Open(desk.Media.FileOf(sha256), medium.FileName);
                ListeningStream.Write(output, medium.Rate, file.Source.Channels, file.Source.Length, (at, count, into) => file.Source.Read(at, count, into), stop);
            },
            stop);
    }

    // Sound that stands for something plays nowhere by itself, and is listened to by itself all the same.
    private static Session AsTrack(Session session, string? track) => session.Tracks.Any(t => t.Id == track && t.Kind.HasRole())
        ? session with { Tracks = [.. session.Tracks.Select(t => t.Id == track ? t with { Kind = TrackKind.Audio, Of = [] } : t)] }
        : session;

    /// <summary>A sound file of a package, as it was found, as it was meant, or what is left between, raised so that it can be heard.</summary>
    private static async Task<IResult> FileAsync(
        Guid id, string path, string? what, long? from, HttpContext context, DeskLoader desks, RoomAccess access, PackageStore packages, ListeningSeats seats, CancellationToken stop)
    {
        var build = await access.Builds(desks.IdOf(context.User)).SingleOrDefaultAsync(b => b.Id == id, stop);
        if (build is not { State: WorkState.Done } || packages.Package(id) is not { } package)
        {
            return Results.NotFound();
        }

        var (plan, media) = await desks.PlanAsync(build, stop);
        if (plan.Files.FirstOrDefault(f => f.Path == path && f.IsSound) is not { } file)
        {
            return Results.NotFound();
        }

        return Streamed.Made(context, seats.TryTake(desks.IdOf(context.User)), output => Compared(output, package, plan, file, what ?? "found", from ?? 0, new StoredMedia(media), stop), stop);
    }

    /// <summary>A track of a package as it was sent, as its receiver would read it with the limits of the newest reading, or what is left between.</summary>
    private static async Task<IResult> RehearsedAsync(
        Guid id, string track, string? what, long? from, HttpContext context, DeskLoader desks, RoomAccess access, PackageStore packages, RehearsalDesk rehearsals, FileStore files, ListeningSeats seats, CancellationToken stop)
    {
        var person = desks.IdOf(context.User);
        var build = await access.Builds(person).SingleOrDefaultAsync(b => b.Id == id, stop);
        if (build is not { State: WorkState.Done } || packages.Kept(id) is not { } package || (await rehearsals.OfAsync([id], stop)).GetValueOrDefault(id) is not { } run)
        {
            return Results.NotFound();
        }

        var (plan, _) = await desks.PlanAsync(build, stop);
        return Rehearsal.Has(plan, track) ? Streamed.Made(context, seats.TryTake(person), output => Heard(output), stop) : Results.NotFound();

        void Heard(Stream output)
        {
            var folder = Path.Combine(files.Scratch, $"{Guid.NewGuid():N}.rehearsed");
            try
            {
                using var both = Rehearsal.Of(package.Files, plan, RehearsalDesk.LimitsOf(run), folder, stop, track).Open(track, from ?? 0)!;
                var other = Printing.Planar(RehearsedTrack.Channels);
                ListeningStream.Write(output, both.Rate, RehearsedTrack.Channels, both.Length - both.From, (at, count, into) =>
                {
                    if (what == "sent")
                    {
                        both.ReadSent(both.From + at, count, into);
                        return;
                    }

                    both.ReadBack(both.From + at, count, into);
                    if (what == "difference")
                    {
                        both.ReadSent(both.From + at, count, other);
                        Subtract(into, other, count);
                    }
                }, stop);
            }
            finally
            {
                LaidFiles.Clear(folder);
            }
        }
    }

    /// <summary>How a sound file of a package looks.</summary>
    private static async Task<IResult> OutlineAsync(Guid id, string path, HttpContext context, DeskLoader desks, RoomAccess access, PackageStore packages, Outlines outlines, ListeningSeats seats, CancellationToken stop)
    {
        var person = desks.IdOf(context.User);
        return await access.Builds(person).SingleOrDefaultAsync(b => b.Id == id, stop) is { State: WorkState.Done } && packages.Kept(id) is { } package && package[path] is { } file && ReceivedFiles.IsSound(file)
            ? await Received.Drawn(context, () => outlines.OfAsync(package, file, () => seats.TryTake(person), stop))
            : Results.NotFound();
    }

    /// <summary>The places of a sound file of a package that are worth listening to.</summary>
    private static async Task<IResult> PlacesAsync(Guid id, string path, HttpContext context, DeskLoader desks, RoomAccess access, PackageStore packages, ListeningSeats seats, CancellationToken stop)
    {
        var person = desks.IdOf(context.User);
        var build = await access.Builds(person).SingleOrDefaultAsync(b => b.Id == id, stop);
        if (build is not { State: WorkState.Done } || packages.Package(id) is not { } package)
        {
            return Results.NotFound();
        }

        var (plan, media) = await desks.PlanAsync(build, stop);
        if (plan.Files.FirstOrDefault(f => f.Path == path && f.IsSound) is not { } file)
        {
            return Results.NotFound();
        }

        using var seat = seats.TryTake(person);
        return seat is null ? Results.StatusCode(StatusCodes.Status429TooManyRequests)
            : Results.Json((await Task.Run(() => Places(package, plan, file, new StoredMedia(media), stop), stop)).Select(p => new { kind = p.Kind.ToString(), sample = p.Sample, db = p.Db is { } db && double.IsFinite(db) ? Math.Round(db, 2) : (double?)null }));
    }

    private static IReadOnlyList<EarPlace> Places(IStoredFile zip, DeliveryPlan plan, PlannedFile file, StoredMedia media, CancellationToken stop)
    {
        using var notes = new NoteSoundFiles(new SoundFontSounds(), media.Scratch);
        using var package = PackageReader.Open(zip, plan.Root);
        using var found = FoundSound.Open(package, file, media.Scratch, stop);
        using var meant = found.Is(file) ? new Printing(plan, new MediaOpener(media, plan.Session.Rate), notes).Open(file, package.Manifest.LoweredDb) : null;
        return EarPlaces.Of(found.Sound.Source, meant is null ? null : meant.Read, stop);
    }

    private static void Compared(Stream output, IStoredFile zip, DeliveryPlan plan, PlannedFile file, string what, long from, StoredMedia media, CancellationToken stop)
    {
        var opener = new MediaOpener(media, plan.Session.Rate);
        using var notes = new NoteSoundFiles(new SoundFontSounds(), media.Scratch);
        using var package = PackageReader.Open(zip, plan.Root);
        using var found = what == "meant" ? null : FoundSound.Open(package, file, media.Scratch, stop);
        using var meant = what == "found" ? null : new Printing(plan, opener, notes).Open(file, package.Manifest.LoweredDb);
        from = Math.Clamp(from, 0, file.Frames);
        var other = Printing.Planar(file.Channels);
        ListeningStream.Write(output, file.Made.Rate, file.Channels, file.Frames - from, (at, count, into) =>
        {
            found?.Sound.Source.Read(from + at, count, into);
            if (meant is null)
            {
                return;
            }

            meant.Read(from + at, count, found is null ? into : other);
            if (found is not null)
            {
                Subtract(into, other, count, ListeningStream.Raised);
            }
        }, stop);
    }

    private static void Subtract(double[][] from, double[][] what, int count, double raised = 1)
    {
        for (var c = 0; c < from.Length; c++)
        {
            for (var i = 0; i < count; i++)
            {
                from[c][i] = (from[c][i] - what[c][i]) * raised;
            }
        }
    }
}
