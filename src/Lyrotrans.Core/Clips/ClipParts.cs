using System.Text;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Clips;

/// <summary>
/// The files that a clip plan becomes: one, or several with some of the tracks each where one would be too large. All begin at the same place, so that they lie right
/// beside each other when each is imported at its start.
/// </summary>
public static class ClipParts
{
    // What media and points take in any format, without the sound: measured on our own files, and rounded up.
    private const long MediumBytes = 5_200;
    private const long PointBytes = 200;
    private const long HeadBytes = 1_700;
    private const long ChannelBytes = 130;

    // The longest that a character becomes in XML, and once more as it is.
    private const long MostEscaped = 6;

    /// <summary>The size of a plan's file of clips in bytes, near enough to choose by and never too small.</summary>
    public static long Bytes(ClipPlan plan, ClipChoices choices)
    {
        var clips = plan.Session.Tracks.Sum(t => t.Lanes.Sum(l => (long)l.Clips.Count));
        return choices.Format.FileBytes + (clips * choices.Format.ClipBytes) + (plan.Media.Count * MediumBytes) + (Points(plan.Session) * PointBytes) + (choices.MediaForm.IsBeside() ? 0 : plan.Media.Where(m => !m.IsMissing).Sum(m => SoundBytes(m.Media, plan.Session.Name)));
    }

    /// <summary>What a medium takes as a file, its header included, in bytes.</summary>
    /// <param name="media">The medium.</param>
    /// <param name="project">The session's name, which its header says.</param>
    public static long SoundBytes(Media media, string project) =>
        HeadBytes + (MostEscaped * (Encoding.UTF8.GetByteCount(project) + ((1 + media.Channels) * Encoding.UTF8.GetByteCount(media.FileName)))) + (media.Channels * ChannelBytes) + (media.Length * media.Channels * media.Encoding.Bytes());

    /// <summary>One plan for each file.</summary>
    public static ValueArray<ClipPlan> Of(ClipPlan plan, ClipChoices choices) => Of(plan, choices, choices.MostBytes);

    /// <summary>The same by another limit than the chosen one, in bytes.</summary>
    public static ValueArray<ClipPlan> Of(ClipPlan plan, ClipChoices choices, long? mostBytes)
    {
        if (!choices.Splits || mostBytes is null || Bytes(plan, choices) <= mostBytes)
        {
            return [plan];
        }

        var parts = new List<ClipPlan>();
        var tracks = new List<Track>();
        foreach (var track in plan.Session.Tracks)
        {
            if (tracks.Count > 0 && Bytes(Part(plan, [.. tracks, track]), choices) > mostBytes)
            {
                parts.Add(Part(plan, tracks));
                tracks.Clear();
            }

            tracks.Add(track);
        }

        parts.Add(Part(plan, tracks));
        return parts.ToValueArray();
    }

    /// <summary>What keeps a plan from being built; null where nothing does.</summary>
    public static string? Problem(ValueArray<ClipPlan> parts, ClipChoices choices)
    {
        if (choices.MostBytes is not { } most)
        {
            return null;
        }

        var largest = parts.Max(p => Bytes(p, choices));
        return largest <= most ? null
            : choices.Splits && parts.Any(p => p.Session.Tracks.Count == 1 && Bytes(p, choices) > most)
                ? $"The {choices.Format} file of one track alone would have {Digits.Bytes(largest)}, and {Digits.Bytes(most)} is the most: put media beside it, trim them, or take 16 bits."
                : $"The {choices.Format} file would have {Digits.Bytes(largest)}, and {Digits.Bytes(most)} is the most: put media beside it, take 16 bits, or split it by tracks.";
    }

    // Numbered as they will be read again, and media in the order in which these tracks first use them.
    internal static ClipPlan Part(ClipPlan plan, IReadOnlyList<Track> tracks)
    {
        var numbered = Connected([.. tracks.Where(t => t.Kind == TrackKind.Audio).Select((t, i) => ClipPlanner.Numbered(t, i + 1)), .. tracks.Where(t => t.Kind != TrackKind.Audio)]);
        var known = plan.Media.ToDictionary(m => m.Media.Id);
        var media = tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Select(c => c.Media).Distinct().Select(id => known[id]).ToValueArray();
        return plan with { Media = media, Session = plan.Session with { Tracks = numbered, Media = media.Select(m => m.Media).ToValueArray() } };
    }

    // What a track feeds may lie in another part.
    private static ValueArray<Track> Connected(List<Track> tracks)
    {
        var here = tracks.Select(t => t.Id).ToHashSet();
        return [.. tracks.Select(t => t with { Output = t.Output is { } output && here.Contains(output) ? output : null, Sends = [.. t.Sends.Where(s => here.Contains(s.Target))] })];
    }

    private static long Points(Session session) => session.Tracks.Sum(t =>
        (t.FaderAutomation?.Points.Count ?? 0) + (t.PanAutomation?.Points.Count ?? 0) + t.Lanes.Sum(l => l.Clips.Sum(c => (long)(c.GainCurve?.Points.Count ?? 0) + c.FadeIn.Curve.Count + c.FadeOut.Curve.Count)));
}
