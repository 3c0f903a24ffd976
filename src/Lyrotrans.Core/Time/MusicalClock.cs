namespace Lyrotrans.Core.Time;

/// <summary>Ties quarters to samples: quarter 0 (bar 1) lies at a given sample, and the tempo map runs from there.</summary>
public sealed class MusicalClock(SampleRate rate, long bar1Sample, TempoMap tempo)
{
    /// <summary>The nearest sample to a place in quarters; ties go to even.</summary>
    public long SampleAt(Rational quarter) => ExactSampleAt(quarter).RoundToEven();

    /// <summary>The place in samples, not rounded.</summary>
    public Rational ExactSampleAt(Rational quarter) => bar1Sample + rate.SamplesIn(tempo.SecondsAt(quarter));

    /// <summary>The place in quarters of a sample, exact in pieces of constant tempo.</summary>
    public Rational QuarterAt(Rational sample) => tempo.QuarterAt(rate.SecondsOf(sample - bar1Sample));
}
