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

    // Two days.
    private const long LongestSeconds = 86_400 * 2;

    /// <summary>What a place can be typed as, in words.</summary>
    public const string Places = "a timecode, a bar such as 17.1.0, seconds such as 12.5 s, a sample, or the name of a marker";

    /// <summary>The nearest sample of a place typed in any of the ways that can be told apart, or null where it is none. A marker is found by its name, without regard to case; of several the first one is meant.</summary>
    /// <param name="session">For positions.</param>
    /// <param name="text">What was typed.</param>
    /// <param name="atEnd">Whether the end of a marker that has a length is meant, and not its start.</param>
    public static long? ParseAny(Session session, string text, bool atEnd = false)
    {
        var typed = text.Trim();
        return Parse(session, "timecode", typed) ?? Parse(session, "samples", typed)
            ?? (typed.Count(c => c == '.') == 2 ? Parse(session, "bars", typed) : null)
            ?? (typed.EndsWith('s') ? Parse(session, "seconds", typed[..^1]) : null)
            ?? (session.Markers.FirstOrDefault(m => string.Equals(m.Text.Trim(), typed, StringComparison.OrdinalIgnoreCase)) is { } marker ? marker.Sample + (atEnd ? marker.Length : 0) : null);
    }

    /// <summary>The nearest sample, or null where the text is no place.</summary>
    public static long? Parse(Session session, string kind, string text)
    {
        var plain = new string(text.Where(c => !char.IsWhiteSpace(c) && c != '\u202f').ToArray()).Replace('−', '-');
        var limit = session.Rate.SamplesIn(LongestSeconds).RoundToEven();
        var sample = kind switch
        {
            "samples" => long.TryParse(plain, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value) ? value : (long?)null,
            "timecode" => TimecodePosition.TryParse(plain, session.FrameRate, out var code) ? session.TimecodeScale.SampleOf(code) : null,
            "bars" => MusicalPosition.TryParse(plain, out var bars) && Math.Abs(bars.Bar) < 1_000_000 ? session.Clock.SampleAt(session.Meters.QuarterOf(bars)) : null,
            "seconds" => Rational.TryParse(plain, out var seconds) && seconds <= LongestSeconds && seconds >= -LongestSeconds ? session.Rate.SamplesIn(seconds).RoundToEven() : null,
            _ => null,
        };
        return sample is { } s && Math.Abs(s) <= limit ? s : null;
    }
}
