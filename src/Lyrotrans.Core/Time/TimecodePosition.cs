using System.Globalization;

namespace Lyrotrans.Core.Time;

/// <summary>A frame and how many samples past its first sample; written <c>10:00:23:00 +336</c>.</summary>
public readonly record struct TimecodePosition(Timecode Frame, long SubSamples)
{
    /// <summary>Reads <c>10:00:23:00</c> or <c>10:00:23:00 +336</c>; false where it is neither, or the frame does not exist.</summary>
    public static bool TryParse(string? text, FrameRate rate, out TimecodePosition value)
    {
        value = default;
        var plus = (text ?? string.Empty).Split('+');
        if (plus.Length > 2 || !Timecode.TryParse(plus[0], rate, out var frame))
        {
            return false;
        }

        long sub = 0;
        if (plus.Length == 2 && !long.TryParse(plus[1].Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out sub))
        {
            return false;
        }

        value = new TimecodePosition(frame, sub);
        return true;
    }

    public override string ToString() => SubSamples == 0
        ? Frame.ToString()
        : string.Create(CultureInfo.InvariantCulture, $"{Frame} +{SubSamples}");
}
