using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Which of the pictures that were brought in is the reference picture of a session, and where it begins.</summary>
internal static class PictureJoin
{
    /// <summary>The session with its picture: the file that it names, or the first that came.</summary>
    /// <param name="session">May name a picture.</param>
    /// <param name="pictures">Those that could be read, in their order.</param>
    /// <param name="sounds">All sound that was brought in: some of it may have been taken out of the pictures.</param>
    /// <param name="used">Which of it is a medium of the session. A picture whose sound is one is taken where there is no other.</param>
    /// <param name="placed">Told where each came to lie.</param>
    /// <param name="findings">Told what does not go.</param>
    public static Session Apply(Session session, IReadOnlyList<IntakeItem> pictures, IReadOnlyList<IntakeItem> sounds, IReadOnlySet<string> used, IDictionary<string, PlacedItem> placed, FindingList findings)
    {
        var named = session.Picture;
        var sources = sounds.Where(s => s.TakenFrom is not null && used.Contains(s.Id)).Select(s => s.TakenFrom!).ToHashSet();
        var taken = named is null ? pictures.OrderBy(p => sources.Contains(p.Name)).FirstOrDefault() : pictures.FirstOrDefault(p => Names(named, p.Name));
        foreach (var other in pictures.Where(p => p != taken))
        {
            placed[other.Id] = new PlacedItem(null, sources.Contains(other.Name) ? "its sound is a medium" : "another is the reference picture");
            if (!sources.Contains(other.Name))
            {
                findings.Add(IntakeCodes.OtherPicture, other.Name, $"{other.Name} does not go: the reference picture is {(taken?.Name ?? named!.FileName)}{(taken is null ? ", whose file did not come" : string.Empty)}.");
            }
        }

        if (taken is null)
        {
            return session;
        }

        var rate = session.FrameRate.PerSecond;
        var (start, why) = Place(session, named, taken);
        placed[taken.Id] = new PlacedItem(session.TimecodeScale.FirstSampleOf(start), why);
        var length = Ratio(taken.PictureSeconds) is { } seconds ? Math.Max(1, (seconds * rate).RoundToEven()) : named?.LengthFrames ?? 0;
        return session with
        {
            Picture = new PictureReference(taken.Name, start, length, taken.Sha256)
            {
                FramesPerSecond = Ratio(taken.PictureRate),
                SoundChannels = sounds.Where(s => s.TakenFrom == taken.Name).Sum(s => s.Sound!.Channels),
                Bytes = taken.PictureRate is null ? 0 : taken.Bytes,
            },
        };
    }

    /// <summary>Whether a session's picture is the file of a name; folders do not count.</summary>
    public static bool Names(PictureReference picture, string file) => string.Equals(picture.ShortName, (picture with { FileName = file }).ShortName, StringComparison.OrdinalIgnoreCase);

    private static (Timecode Start, string Why) Place(Session session, PictureReference? named, IntakeItem picture)
    {
        var rate = session.FrameRate.PerSecond;
        Timecode At(long sample) => session.Start with { Frames = session.Start.Frames + (long)(session.Rate.SecondsOf(sample) * rate).Floor() };
        return picture.Placement.Rule switch
        {
            PlacementRule.Offset => (At(picture.Placement.Sample), "offset typed in, at the frame there"),
            PlacementRule.Bar1 => (At(session.Bar1Sample), "at the frame of bar 1"),
            PlacementRule.SessionStart when named is null || picture.PictureSeconds is not null => (session.Start, "at session start"),
            _ when named is not null => (named.Start, "where the session names it"),
            PlacementRule.TimeStamp when Ratio(picture.PictureStart) is { } seconds => (session.Start with { Frames = (seconds * rate).RoundToEven() }, "by its timecode"),
            _ => (session.Start, "at session start: it has no timecode"),
        };
    }

    private static Rational? Ratio(string? text) => Rational.TryParse(text, out var ratio) && ratio.Sign >= 0 ? ratio : null;
}
