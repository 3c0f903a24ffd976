using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Joining;
using Lyrotrans.Core.Rehearsing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Workflow.Rehearsing;

/// <summary>A package read back as its receiver would read it, before it goes: its own files, by a program that reads with limits.</summary>
public sealed class Rehearsal
{
    private const double ReadingTakes = 0.1;
    private readonly SentPackage _sent;
    private readonly Session _read;

    private Rehearsal(SentPackage sent, Session read, ReadingLimits limits, Session? music)
    {
        (_sent, Limits) = (sent, limits);
        var files = sent.Sent.Tracks.Where(t => t.IsFile).Select(t => t.Id).ToHashSet();
        There = StandIn.Of(read, limits, files);

        // Sound is compared at the rate that was sent; places stay where the samples of the other rate put them.
        _read = There.Rate == sent.Sent.Session.Rate ? There : SessionMove.Of(There, sent.Sent.Session.Rate, 0);
        Music = music is null ? null : StandIn.Music(music, limits);
    }

    /// <summary>How it is read.</summary>
    public ReadingLimits Limits { get; }

    /// <summary>The session there, at the rate that it has there.</summary>
    public Session There { get; }

    /// <summary>Tempo, meters and notes there; null where no MIDI was sent.</summary>
    public Session? Music { get; }

    /// <param name="files">The package's.</param>
    /// <param name="plan">That it was built by.</param>
    /// <param name="limits">How it is read.</param>
    /// <param name="scratch">Gets the media that lie inside a file of clips.</param>
    /// <param name="stop">Heeded between media.</param>
    /// <param name="only">The id of the one track whose sound is wanted; null is all.</param>
    /// <exception cref="Core.Errors.BadInputException">A file of it cannot be read.</exception>
    public static Rehearsal Of(IReadOnlyList<KeptFile> files, DeliveryPlan plan, ReadingLimits limits, string scratch, CancellationToken stop, string? only = null)
    {
        var wanted = only is null ? null : (plan.Clips?.Session.Tracks.FirstOrDefault(t => t.Id == only)?.Lanes.SelectMany(l => l.Clips).Select(c => c.Media) ?? []).ToHashSet();
        var sent = SentPackage.Of(files, plan, scratch, stop, wanted);
        return new Rehearsal(sent, ReadBack(files, plan, sent.Sent.Session), limits, sent.Sent.Music);
    }

    /// <summary>Holds what was read to what was sent: places first, then every track by its sound.</summary>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Heeded all along.</param>
    public RehearsalReport Report(Action<WorkProgress> report, CancellationToken stop)
    {
        report(new WorkProgress(0, "comparing places"));
        var known = There.Media.ToDictionary(m => m.Id, m => new FoundOrigin(m.Id, 0, ArrivalBasis.Identifier));
        var isEdit = _sent.Sent.Tracks.Any(t => !t.IsFile);
        var moves = ArrivalComparison.Compare(_sent.Sent, new ArrivalSide(There, Music, isEdit), new SoundOrigins(known, new HashSet<string>(), new HashSet<string>()));
        var sounds = new List<RehearsedSound>();
        // Of a track that went in two forms the one that is read there is heard.
        var there = There.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Select(c => c.Media).ToHashSet();
        var heard = _sent.Sent.BroughtIn(there).Tracks.Select(t => t.Id).ToHashSet();
        var tracks = _sent.Sent.Session.Tracks.Where(t => t.Kind == TrackKind.Audio && heard.Contains(t.Id)).ToList();
        foreach (var (track, i) in tracks.Select((t, i) => (t, i)))
        {
            report(new WorkProgress(ReadingTakes + ((1 - ReadingTakes) * i / tracks.Count), $"listening to {track.Name}"));
            sounds.Add(RehearsedTrack.Compare(_sent.Sent.Session, _read, track, _sent.Media, stop));
        }

        return new RehearsalReport(Limits, moves, sounds);
    }

    /// <summary>One track to listen to; null where there is none of that id.</summary>
    /// <param name="track">Its id.</param>
    /// <param name="from">The first sample that will be read; before the start or after the end it is the nearer of these.</param>
    public RehearsedTrack? Open(string track, long from = 0) => Find(_sent.Sent, track) is { } found ? new RehearsedTrack(_sent.Sent.Session, _read, found, _sent.Media, from) : null;

    /// <summary>Whether a package has a track that can be listened to.</summary>
    public static bool Has(DeliveryPlan plan, string track) => Find(SentSession.Of(plan, null), track) is not null;

    private static Track? Find(SentSession sent, string track) => sent.Session.Tracks.FirstOrDefault(t => t.Id == track && t.Kind == TrackKind.Audio);

    // What is in the files of clips themselves, with the identifiers of what was meant.
    private static Session ReadBack(IReadOnlyList<KeptFile> files, DeliveryPlan plan, Session sent)
    {
        var read = new Dictionary<string, Track>();
        foreach (var planned in plan.Files.Where(f => f.Kind == PlannedKind.ClipFile))
        {
            var meant = plan.ClipFiles[planned.Part].Session.Tracks;
            using var stream = files.Single(f => f.Path == planned.Path).File.Open();
            var found = SessionDocuments.Open(stream, Path.GetFileName(planned.Path)).ReadSession().Session.Tracks.Where(t => t.Kind == TrackKind.Audio).ToList();
            foreach (var (track, there) in meant.Where(t => t.Kind == TrackKind.Audio).Zip(found))
            {
                read[track.Id] = there with { Id = track.Id };
            }
        }

        var clips = plan.Clips?.Session.Tracks.Select(t => t.Id).ToHashSet() ?? [];
        return sent with { Tracks = [.. sent.Tracks.Where(t => read.ContainsKey(t.Id) || !clips.Contains(t.Id)).Select(t => read.GetValueOrDefault(t.Id) ?? t)] };
    }
}
