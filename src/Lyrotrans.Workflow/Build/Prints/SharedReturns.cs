using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>
/// Returns and buses with effects that several files of a package need, each rendered once, by the first that asks, into a scratch file that all of them read. The samples are those that every
/// file would have rendered for itself.
/// </summary>
internal sealed class SharedReturns : IMadeSounds, IDisposable
{
    // A render is made in blocks, and reads a little further than it is asked for.
    private const long Beyond = 1 << 14;
    private readonly DeliveryPlan _plan;
    private readonly SampleRange _read;
    private readonly SignalPaths _paths;
    private readonly string _scratch;
    private readonly MixSounds _sounds;
    private readonly CancellationToken _stop;
    private readonly Dictionary<string, Lazy<ScratchSound>> _made;

    /// <param name="plan">What is built.</param>
    /// <param name="places">Where its files take their sound.</param>
    /// <param name="read">The session samples that they read.</param>
    /// <param name="sounds">Media and instruments.</param>
    /// <param name="scratch">A local folder.</param>
    /// <param name="stop">Stops between blocks.</param>
    public SharedReturns(DeliveryPlan plan, IEnumerable<MixPlace> places, SampleRange read, MixSounds sounds, string scratch, CancellationToken stop)
    {
        (_plan, _read) = (plan, read);
        _paths = SignalPaths.Of(plan.Session);
        _scratch = scratch;
        _sounds = sounds with { Made = this };
        _stop = stop;
        var needed = places.SelectMany(Needs).GroupBy(n => n.Key).Where(g => g.Count() > 1).Select(g => g.First()).ToList();

        Directory.CreateDirectory(scratch);

        // Where the disk is nearly full it is better made twice.
        _made = needed.Sum(n => Bytes(n.Track)) * 2 < (DiskSpace.FreeIn(scratch) ?? 0)
            ? needed.ToDictionary(n => n.Key, n => new Lazy<ScratchSound>(() => Render(n.Track, n.Sounding)))
            : [];
    }

    public ITrackSound? Made(Track track, IReadOnlySet<string> sounding) =>
        _made.Count > 0 && IsShared(track) && IsOwn(track) && _made.TryGetValue(KeyOf(track, sounding), out var made) ? made.Value.Open() : null;

    public void Dispose()
    {
        foreach (var made in _made.Values.Where(m => m.IsValueCreated))
        {
            made.Value.Dispose();
        }
    }

    // A track whose print goes through other effects, or a mix without any, is another.
    private bool IsOwn(Track track) => _paths[track.Id] == track;

    private static bool IsShared(Track track) => track is { Kind: TrackKind.Return or TrackKind.Bus, Inserts.Count: > 0 };

    private IEnumerable<(string Key, Track Track, IReadOnlySet<string> Sounding)> Needs(MixPlace place) =>
        place.Session.Tracks.Any(t => t.Kind is TrackKind.Return or TrackKind.Bus && !IsOwn(t)) ? [] : _paths.Upstream(place.Target).Select(id => _paths[id]).Where(IsShared)
            .Where(t => _paths.Upstream(t).Overlaps(place.Sounding)).Select(t => (KeyOf(t, place.Sounding), t, place.Sounding));

    // What it sounds like: itself, and which of the tracks that reach it play.
    private string KeyOf(Track track, IReadOnlySet<string> sounding) =>
        string.Join('\n', _paths.Upstream(track).Where(sounding.Contains).Order(StringComparer.Ordinal).Prepend(track.Id));

    private long Bytes(Track track) => ScratchSound.BytesOf(track.Channels, RangeOf(0));

    private SampleRange RangeOf(long first) => new(first, _read.End + _paths.LatencyOut(_paths.Master) + Beyond);

    private ScratchSound Render(Track track, IReadOnlySet<string> sounding)
    {
        using var render = new MixRender(_plan.Session, track, MixPoint.AfterEffects, sounding, _sounds with { Made = new Others(this, track.Id) }, _read.Start);
        return ScratchSound.Write(_scratch, _plan.Session.Rate, render.Channels, RangeOf(render.First), render, _stop);
    }

    /// <summary>All but the one that is being rendered.</summary>
    private sealed class Others(SharedReturns all, string but) : IMadeSounds
    {
        public ITrackSound? Made(Track track, IReadOnlySet<string> sounding) => track.Id == but ? null : all.Made(track, sounding);
    }
}
