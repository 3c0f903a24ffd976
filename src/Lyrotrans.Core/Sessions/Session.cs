using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>
/// One session on one timeline: what every reader makes, every writer takes, the screens show and the proof compares.
/// Positions are whole samples from session start at <see cref="Rate"/>. Immutable.
/// </summary>
public sealed record Session
{
    public required string Name { get; init; }

    public SampleRate Rate { get; init; } = SampleRate.Hz48000;

    public SampleEncoding Depth { get; init; } = SampleEncoding.Integer24;

    /// <summary>The timecode of sample 0, with the session's frame rate.</summary>
    public Timecode Start { get; init; } = new(0, FrameRate.Fps25);

    /// <summary>The sample of bar 1, beat 1. Music may lie before it.</summary>
    public long Bar1Sample { get; init; }

    public TempoMap Tempo { get; init; } = TempoMap.Constant(120);

    public MeterMap Meters { get; init; } = MeterMap.FourFour;

    public ValueArray<KeyChange> Keys { get; init; }

    public ValueArray<Marker> Markers { get; init; }

    public ValueArray<Media> Media { get; init; }

    /// <summary>In the session's order; buses, returns and the master are tracks too.</summary>
    public ValueArray<Track> Tracks { get; init; }

    public PictureReference? Picture { get; init; }

    /// <summary>How mono sounds lie between left and right.</summary>
    public PanLaw PanLaw { get; init; }

    public ValueArray<Comment> Comments { get; init; }

    public ValueArray<Provenance> Provenance { get; init; }

    public FrameRate FrameRate => Start.Rate;

    public TimecodeScale TimecodeScale => new(Rate, Start);

    public MusicalClock Clock => new(Rate, Bar1Sample, Tempo);

    /// <summary>The end of the last thing on any track, in samples; 0 for an empty session.</summary>
    public long EndSample
    {
        get
        {
            var end = 0L;
            foreach (var clip in Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips))
            {
                end = Math.Max(end, clip.End);
            }

            var clock = Clock;
            foreach (var part in Tracks.SelectMany(t => t.Parts))
            {
                end = Math.Max(end, clock.SampleAt(part.EndQuarter));
            }

            return end;
        }
    }
}
