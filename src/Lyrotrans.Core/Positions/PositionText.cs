using System.Globalization;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Positions;

/// <summary>One instant in samples, timecode, bar.beat.tick and seconds, as text; converted exactly, rounded once.</summary>
public sealed record PositionText(long Sample, string Samples, string Timecode, string Bars, string Seconds)
{
    /// <summary>A session sample in all four.</summary>
    public static PositionText Of(Session session, long sample)
    {
        var micros = (session.Rate.SecondsOf(sample) * 1_000_000).RoundToEven();
        var whole = Math.Abs(micros);
        var seconds = string.Create(CultureInfo.InvariantCulture, $"{(micros < 0 ? "−" : "")}{Digits.Grouped(whole / 1_000_000)}.{whole / 1000 % 1000:000} {whole % 1000:000}");
        return new PositionText(
            sample, Digits.Grouped(sample), session.TimecodeScale.At(sample).ToString(),
            session.Meters.NearestTick(session.Clock.QuarterAt(sample)).ToString(), seconds);
    }

    /// <summary>The nearest sample, or null where the text is no place.</summary>
    public static long? Parse(Session session, string kind, string text)
    {
        var plain = new string(text.Where(c => !char.IsWhiteSpace(c) && c != '\u202f').ToArray()).Replace('−', '-');
        var limit = session.Rate.SamplesIn(86_400 * 2).RoundToEven();
        var sample = kind switch
        {
            "samples" => long.TryParse(plain, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value) ? value : (long?)null,
            "timecode" => TimecodePosition.TryParse(plain, session.FrameRate, out var code) ? session.TimecodeScale.SampleOf(code) : null,
            "bars" => MusicalPosition.TryParse(plain, out var bars) && Math.Abs(bars.Bar) < 1_000_000 ? session.Clock.SampleAt(session.Meters.QuarterOf(bars)) : null,
            "seconds" => Rational.TryParse(plain, out var seconds) ? session.Rate.SamplesIn(seconds).RoundToEven() : null,
            _ => null,
        };
        return sample is { } s && Math.Abs(s) <= limit ? s : null;
    }
}
