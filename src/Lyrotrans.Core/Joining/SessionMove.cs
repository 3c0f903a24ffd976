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

    private SessionMove(Session session, SampleRate rate, long by) => (_session, _rate, _by) = (session, rate, by);

    /// <param name="session">What is moved.</param>
    /// <param name="rate">Of the other timeline.</param>
    /// <param name="by">The sample of that timeline at which the session's sample 0 lies.</param>
    public static Session Of(Session session, SampleRate rate, long by) => new SessionMove(session, rate, by).Moved();

    /// <summary>How many clips begin between two samples of another rate.</summary>
    public static int BetweenSamples(Session session, SampleRate rate) => session.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Count(c => !rate.SamplesIn(session.Rate.SecondsOf(c.Start)).IsWhole);

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
        };
    }

    // Of two points that come to lie on one sample the later counts.
    private static Automation? Moved(Automation? automation, Func<long, long> at) => automation is null ? null
        : automation with { Points = [.. automation.Points.Select(p => p with { Sample = at(p.Sample) }).GroupBy(p => p.Sample).Select(g => g.Last())] };
}
