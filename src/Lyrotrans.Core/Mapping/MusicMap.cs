using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Mapping;

/// <summary>Everything that ties music to samples: tempo, meters, keys, and the sample of bar 1.</summary>
public sealed record MusicMap(TempoMap Tempo, MeterMap Meters, ValueArray<KeyChange> Keys, long Bar1Sample)
{
    /// <summary>That of a session.</summary>
    public static MusicMap Of(Session session) => new(session.Tempo, session.Meters, session.Keys, session.Bar1Sample);

    /// <summary>
    /// Whether it says nothing: one tempo of 120, 4/4, no key, bar 1 at the start, as programs write it that know no map.
    /// </summary>
    public bool IsDefault => Tempo.Points.Count == 1 && Tempo.Points[0].QuartersPerMinute == 120
        && Meters.Changes.Count == 1 && Meters.Changes[0] is { Beats: 4, BeatUnit: 4 } && Keys.Count == 0 && Bar1Sample == 0;

    /// <summary>From quarters to samples of a rate, and back.</summary>
    public MusicalClock ClockAt(SampleRate rate) => new(rate, Bar1Sample, Tempo);
}
