using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Positions;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Editing;

/// <summary>Names, range and format of the files from zero, as they were typed and chosen. A field that was not shown keeps what it had.</summary>
public sealed record FilesEdit
{
    private const int LongestTailSeconds = 3600;

    /// <summary>The name pattern.</summary>
    public string? Pattern { get; init; }

    /// <summary>Where all files begin.</summary>
    public RangeStart Start { get; init; }

    /// <summary>For a start that is chosen, as timecode or samples.</summary>
    public string? Chosen { get; init; }

    /// <summary>Whether the files end at a chosen place, and not with the last sound.</summary>
    public bool ToChosen { get; init; }

    /// <summary>For an end that is chosen, as timecode or samples; none takes the end that the files have now.</summary>
    public string? ChosenEnd { get; init; }

    /// <summary>After the last sound, in seconds.</summary>
    public string? Tail { get; init; }

    /// <summary>The format of sound files.</summary>
    public SoundContainer Container { get; init; }

    /// <summary>The sample format of sound files.</summary>
    public SampleEncoding Encoding { get; init; }

    /// <param name="session">For positions.</param>
    /// <param name="before">The preparation as it stands.</param>
    /// <param name="end">The end that the files have now, in session samples.</param>
    public Edit<Preparation> Apply(Session session, Preparation before, long end)
    {
        var pattern = (Pattern ?? string.Empty).Trim();
        if (NamePattern.Problem(pattern) is { } problem)
        {
            return new Refused(problem);
        }

        if (!TryPlace(session, Chosen, before.ChosenStart, out var start))
        {
            return new Refused($"\"{Chosen}\" is no timecode and no sample.");
        }

        if (!TryPlace(session, ChosenEnd, end, out var to))
        {
            return new Refused($"\"{ChosenEnd}\" is no timecode and no sample.");
        }

        if (!TryTail(session, before, out var tail))
        {
            return new Refused($"\"{Tail}\" is no tail; it is 0 to {LongestTailSeconds} seconds.");
        }

        if (!Preparation.Encodings.Contains(Encoding) || !Enum.IsDefined(Container) || !Enum.IsDefined(Start))
        {
            return new Refused("Files are 16, 24 or 32 bit, or 32 bit float.");
        }

        if (!Preparation.CanHold(Container, Encoding))
        {
            return new Refused(Container == SoundContainer.Flac && Encoding.IsFloat()
                ? "FLAC holds no float. Take WAV for 32 bit float, or 24 bit for FLAC."
                : $"{Container.ToString().ToUpperInvariant()} does not hold {Encoding.Words()}. Take WAV, or 24 bit.");
        }

        var after = before with { NamePattern = pattern, From = Start, ChosenStart = start, ChosenEnd = ToChosen ? to : null, Tail = tail, Container = Container, Encoding = Encoding };
        return new Edit<Preparation>(after, Words(before, after), null);
    }

    /// <summary>Moves the start of all files back to a beat, so that the grid begins on one.</summary>
    /// <param name="session">For positions.</param>
    /// <param name="before">The preparation as it stands.</param>
    /// <param name="start">The start that the files have now, in session samples.</param>
    public static Edit<Preparation> OnBeat(Session session, Preparation before, long start)
    {
        var beat = session.Meters.PositionAt(session.Clock.QuarterAt(start)) with { Tick = Rational.Zero };
        var sample = session.Clock.SampleAt(session.Meters.QuarterOf(beat));
        return new Edit<Preparation>(before with { From = RangeStart.Chosen, ChosenStart = sample }, $"files from {beat}, on a beat", null);
    }

    /// <summary>Writes 32 bit float, which has nothing above full scale.</summary>
    public static Edit<Preparation> AsFloat(Preparation before)
    {
        var after = before with { Encoding = SampleEncoding.Float32, Container = SoundContainer.Wav };
        return new Edit<Preparation>(after, Words(before, after), null);
    }

    private static bool TryPlace(Session session, string? typed, long otherwise, out long sample)
    {
        var place = typed is null ? otherwise : PositionText.Parse(session, "timecode", typed) ?? PositionText.Parse(session, "samples", typed);
        sample = place ?? 0;
        return place is not null;
    }

    private bool TryTail(Session session, Preparation before, out long samples)
    {
        samples = before.Tail;
        if (Tail is null)
        {
            return true;
        }

        if (!Rational.TryParse(Tail.Trim().TrimEnd('s').Trim(), out var seconds) || seconds.Sign < 0 || seconds > LongestTailSeconds)
        {
            return false;
        }

        samples = session.Rate.SamplesIn(seconds).RoundToEven();
        return true;
    }

    private static string Words(Preparation before, Preparation after) => string.Join(", ", new[]
    {
        before.NamePattern != after.NamePattern ? $"names by {after.NamePattern}" : null,
        before.From != after.From || before.ChosenStart != after.ChosenStart
            ? after.From == RangeStart.Chosen ? $"files from sample {after.ChosenStart}" : Choices.Starts[after.From].Change : null,
        before.ChosenEnd != after.ChosenEnd ? after.ChosenEnd is { } sample ? $"files to sample {sample}" : "files to the last sound" : null,
        before.Tail != after.Tail ? $"tail {after.Tail} samples" : null,
        Choices.Containers.Changed(before.Container, after.Container),
        before.Encoding != after.Encoding ? after.Encoding.Words() : null,
    }.OfType<string>());
}
