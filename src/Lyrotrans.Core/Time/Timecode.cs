using System.Globalization;

namespace Lyrotrans.Core.Time;

/// <summary>
/// One frame's label (SMPTE ST 12-1): a count of frames since 00:00:00:00 at a frame rate. Counts beyond a day or
/// below zero are kept as they are and wrap only in the label.
/// </summary>
public readonly record struct Timecode(long Frames, FrameRate Rate)
{
    /// <summary>The frame that a label names.</summary>
    /// <exception cref="ArgumentException">The label does not exist at this rate.</exception>
    public static Timecode FromLabel(int hours, int minutes, int seconds, int frames, FrameRate rate)
    {
        if (hours is < 0 or > 23 || minutes is < 0 or > 59 || seconds is < 0 or > 59 || frames < 0 || frames >= rate.Nominal)
        {
            throw new ArgumentException($"There is no timecode {Label(hours, minutes, seconds, frames, rate)} at {rate.Name} frames a second.");
        }

        if (frames < rate.DroppedPerMinute && seconds == 0 && minutes % 10 != 0)
        {
            throw new ArgumentException($"Drop-frame timecode leaves out {Label(hours, minutes, seconds, frames, rate)}.");
        }

        var totalMinutes = (hours * 60L) + minutes;
        var labels = (((totalMinutes * 60) + seconds) * rate.Nominal) + frames;
        return new Timecode(labels - (rate.DroppedPerMinute * (totalMinutes - (totalMinutes / 10))), rate);
    }

    /// <summary>Reads <c>hh:mm:ss:ff</c> (or <c>hh:mm:ss;ff</c>).</summary>
    public static bool TryParse(string? text, FrameRate rate, out Timecode value)
    {
        value = default;
        var parts = (text ?? string.Empty).Trim().Split(':', ';', '.');
        Span<int> numbers = stackalloc int[4];
        if (parts.Length != 4)
        {
            return false;
        }

        for (var i = 0; i < 4; i++)
        {
            if (!int.TryParse(parts[i], NumberStyles.None, CultureInfo.InvariantCulture, out numbers[i]))
            {
                return false;
            }
        }

        try
        {
            value = FromLabel(numbers[0], numbers[1], numbers[2], numbers[3], rate);
            return true;
        }
        catch (ArgumentException)
        {
            return false;
        }
    }

    /// <summary>The same label as a count from 0 to less than a day.</summary>
    public Timecode WithinDay => this with { Frames = ((Frames % Rate.FramesPerDay) + Rate.FramesPerDay) % Rate.FramesPerDay };

    /// <summary>The label, <c>hh:mm:ss:ff</c>; the last separator is <c>;</c> where labels are dropped.</summary>
    public override string ToString()
    {
        var frames = WithinDay.Frames;
        var labels = frames + DroppedBefore(frames);
        var seconds = labels / Rate.Nominal;
        return Label((int)(seconds / 3600), (int)(seconds / 60 % 60), (int)(seconds % 60), (int)(labels % Rate.Nominal), Rate);
    }

    private static string Label(int h, int m, int s, int f, FrameRate rate) =>
        string.Create(CultureInfo.InvariantCulture, $"{h:00}:{m:00}:{s:00}{(rate.Drop ? ';' : ':')}{f:00}");

    private long DroppedBefore(long frames)
    {
        if (!Rate.Drop)
        {
            return 0;
        }

        var perTenMinutes = (Rate.Nominal * 600L) - (Rate.DroppedPerMinute * 9);
        var perMinute = (Rate.Nominal * 60L) - Rate.DroppedPerMinute;
        var (tens, rest) = Math.DivRem(frames, perTenMinutes);
        var minutes = rest < Rate.Nominal * 60L ? 0 : 1 + ((rest - (Rate.Nominal * 60L)) / perMinute);
        return Rate.DroppedPerMinute * ((tens * 9) + minutes);
    }
}
