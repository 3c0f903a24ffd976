using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Joining;

/// <summary>
/// A session on the timeline of another: its places in samples of another rate, and later by some. Sound is not touched; a place between two samples goes to the
/// nearest. Notes keep their quarters, and bar 1 moves with everything.
/// </summary>
public sealed class SessionMove
{
    private readonly Session _session;
    private readonly SampleRate _rate;
    private readonly long _by;
    private readonly bool _keepsSound;

    private SessionMove(Session session, SampleRate rate, long by, bool keepsSound = false) => (_session, _rate, _by, _keepsSound) = (session, rate, by, keepsSound);

    /// <param name="session">What is moved.</param>
    /// <param name="rate">Of the other timeline.</param>
    /// <param name="by">The sample of that timeline at which the session's sample 0 lies.</param>
    public static Session Of(Session session, SampleRate rate, long by) => new SessionMove(session, rate, by).Moved();

    /// <summary>The session at another rate, its sound where it was to the last part of a sample: a clip begins at the nearest sample, and with what its medium has there (<see cref="Clip.SourcePart"/>). So clips that were cut from one recording still continue each other.</summary>
    public static Session Exactly(Session session, SampleRate rate) => new SessionMove(session, rate, 0, keepsSound: true).Moved();

    /// <summary>By how many samples of another rate the farthest of all boundaries moves: ends of clips and fades, markers, and bar 1.</summary>
    public static double LargestMove(Session session, SampleRate rate)
    {
        var clips = session.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).SelectMany(c => new[] { c.Start, c.End, c.Start + c.FadeIn.Length, c.End - c.FadeOut.Length });
        var places = clips.Concat(session.Markers.SelectMany(m => new[] { m.Sample, m.Sample + m.Length })).Append(session.Bar1Sample);

        // Whole samples at both rates come again: only so many places differ.
        var grid = new RateGrid(session.Rate, rate);
        return places.Select(p => grid.PhaseOf(p)).Distinct().Select(p => Math.Abs((grid.Exact(p) - new Rational(grid.Exact(p).RoundToEven(), 1)).ToDouble())).DefaultIfEmpty(0).Max();
    }

    /// <summary>How many clips begin between two samples of another rate.</summary>
    public static int BetweenSamples(Session session, SampleRate rate) => session.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Count(c => !rate.SamplesIn(session.Rate.SecondsOf(c.Start)).IsWhole);

    private Dictionary<string, SampleRate> RateOf => field ??= _session.Media.ToDictionary(m => m.Id, m => m.Rate);

    private Session Moved() => _session with
    {
        Rate = _rate,
        Bar1Sample = At(_session.Bar1Sample),
        Markers = [.. _session.Markers.Select(m => m with { Sample = At(m.Sample), Length = At(m.Sample + m.Length) - At(m.Sample) })],
        Tracks = [.. _session.Tracks.Select(Moved)],
    };

    private long At(long sample) => Scaled(sample) + _by;

    private long Scaled(long samples) => _session.Rate.Convert(samples, _rate);

    private Track Moved(Track track) => track with
    {
        FaderAutomation = Moved(track.FaderAutomation, At),
        PanAutomation = Moved(track.PanAutomation, At),
        Sends = [.. track.Sends.Select(s => s with { LevelAutomation = Moved(s.LevelAutomation, At) })],
        Inserts = [.. track.Inserts.Select(i => i with { Latency = Scaled(i.Latency) })],
        Lanes = [.. track.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(Moved)] })],
    };

    // Both ends go to their nearest sample, so that clips that touched still do; a crossfade is as long as its overlap on both sides.
    private Clip Moved(Clip clip)
    {
        var (start, end) = (At(clip.Start), Math.Max(At(clip.Start) + 1, At(clip.End)));
        return clip with
        {
            Start = start,
            Length = end - start,
            FadeIn = clip.FadeIn with { Length = Math.Min(end - start, At(clip.Start + clip.FadeIn.Length) - start) },
            FadeOut = clip.FadeOut with { Length = Math.Min(end - start, end - At(clip.End - clip.FadeOut.Length)) },
            GainCurve = Moved(clip.GainCurve, Scaled),
            SourcePart = _keepsSound ? PartOf(clip, start) : clip.SourcePart,
        };
    }

    // What lies between the clip's true beginning and the sample that it begins at, in samples of its medium.
    private Rational PartOf(Clip clip, long start) => (_rate.SecondsOf(start) - _session.Rate.SecondsOf(clip.Start)) * RateOf[clip.Media].PerSecond;

    // Of two points that come to lie on one sample the later counts.
    private static Automation? Moved(Automation? automation, Func<long, long> at) => automation is null ? null
        : automation with { Points = [.. automation.Points.Select(p => p with { Sample = at(p.Sample) }).GroupBy(p => p.Sample).Select(g => g.Last())] };
}
