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
    /// <summary>As people call it.</summary>
    public required string Name { get; init; }

    /// <summary>Samples a second, of every position.</summary>
    public SampleRate Rate { get; init; } = SampleRate.Hz48000;

    /// <summary>How the session stores samples; media may be stored otherwise.</summary>
    public SampleEncoding Depth { get; init; } = SampleEncoding.Integer24;

    /// <summary>The timecode of sample 0, with the session's frame rate.</summary>
    public Timecode Start { get; init; } = new(0, FrameRate.Fps25);

    /// <summary>The sample of bar 1, beat 1. Music may lie before it.</summary>
    public long Bar1Sample { get; init; }

    /// <summary>In quarters from bar 1.</summary>
    public TempoMap Tempo { get; init; } = TempoMap.Constant(120);

    /// <summary>In bars.</summary>
    public MeterMap Meters { get; init; } = MeterMap.FourFour;

    /// <summary>Each is in force from its quarter on.</summary>
    public ValueArray<KeyChange> Keys { get; init; }

    /// <summary>In the order of their sources.</summary>
    public ValueArray<Marker> Markers { get; init; }

    /// <summary>Every sound file that clips refer to.</summary>
    public ValueArray<Media> Media { get; init; }

    /// <summary>In the session's order; buses, returns and the master are tracks too.</summary>
    public ValueArray<Track> Tracks { get; init; }

    /// <summary>The reference picture; null where there is none.</summary>
    public PictureReference? Picture { get; init; }

    /// <summary>How mono sounds lie between left and right.</summary>
    public PanLaw PanLaw { get; init; }

    /// <summary>What the session says of itself, by name.</summary>
    public ValueArray<Comment> Comments { get; init; }

    /// <summary>Which file each part of the session came from.</summary>
    public ValueArray<Provenance> Provenance { get; init; }

    /// <summary>That of <see cref="Start"/>.</summary>
    public FrameRate FrameRate => Start.Rate;

    /// <summary>From samples to timecode, and back.</summary>
    public TimecodeScale TimecodeScale => new(Rate, Start);

    /// <summary>From quarters to samples, and back.</summary>
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

    /// <summary>Whether a lane is only the record of what a print that came along was made of: it has clips, and the media of all of them were not sent.</summary>
    public bool IsUnsent(Lane lane)
    {
        var used = lane.Clips.Select(c => c.Media).ToHashSet();
        return used.Count > 0 && Media.Count(m => used.Contains(m.Id) && m.Place == MediaPlace.Unsent) == used.Count;
    }
}
