using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Joining;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Rehearsing;

/// <summary>
/// What a session becomes in a program that reads with limits. Tracks, clips and media keep their identifiers. Files of sound lie where they lay: only their channels and names are read otherwise.
/// </summary>
public sealed class StandIn
{
    private readonly ReadingLimits _limits;
    private readonly Rational _frame;
    private readonly IReadOnlySet<string> _files;

    private StandIn(Session session, ReadingLimits limits, IReadOnlySet<string> files) => (_limits, _files, _frame) = (limits, files, session.Rate.PerSecond / session.FrameRate.PerSecond);

    /// <param name="session">As the package says it.</param>
    /// <param name="limits">How it is read.</param>
    /// <param name="files">Ids of tracks that are files of sound, and not clips.</param>
    public static Session Of(Session session, ReadingLimits limits, IReadOnlySet<string> files)
    {
        var standIn = new StandIn(session, limits, files);
        var read = session with { Tracks = [.. session.Tracks.Where(t => files.Contains(t.Id) || !limits.Has(ReadingLimit.Clips)).Select(standIn.Read)] };
        return limits.Hz is { } hz ? SessionMove.Of(read, new SampleRate(hz), 0) : read;
    }

    /// <summary>What MIDI becomes.</summary>
    /// <param name="music">As the package's MIDI files say it.</param>
    /// <param name="limits">How it is read.</param>
    public static Session Music(Session music, ReadingLimits limits)
    {
        var notes = music.Tracks.Where(t => t.Parts.Count > 0).ToList();
        return limits.Has(ReadingLimit.MidiTracks) && notes.Count > 1
            ? music with { Tracks = [.. music.Tracks.Where(t => t.Parts.Count == 0), notes[0] with { Parts = [.. notes.SelectMany(t => t.Parts)] }] }
            : music;
    }

    private Track Read(Track track)
    {
        var read = track with { Name = Called(track.Name), Lanes = [.. track.Lanes.Select(l => l with { Clips = Read(l.Clips, _files.Contains(track.Id)) })] };
        read = _limits.Has(ReadingLimit.Channels) && track.Channels > 1 ? read with { Channels = 1, Lanes = [.. read.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => c with { ChannelMap = [c.ChannelMap[0]] })] })] } : read;
        read = _limits.Has(ReadingLimit.Volume) ? read with { FaderDb = 0, FaderAutomation = null } : read;
        return _limits.Has(ReadingLimit.Pan) ? read with { Pan = 0, PanAutomation = null } : read;
    }

    private ValueArray<Clip> Read(ValueArray<Clip> clips, bool isFile) =>
        isFile ? [.. clips.Select(c => c with { Name = Called(c.Name) })] : [.. Apart([.. clips.Select(Read).Where(c => c.Length > 0)])];

    private Clip Read(Clip clip)
    {
        var read = clip with { Name = Called(clip.Name), Muted = clip.Muted && !_limits.Has(ReadingLimit.Mutes) };
        read = _limits.Has(ReadingLimit.ClipGain) ? read with { GainDb = 0, GainCurve = null } : read;
        read = _limits.Has(ReadingLimit.Fades) ? read with { FadeIn = Fade.None, FadeOut = Fade.None } : read;
        return _limits.Has(ReadingLimit.BetweenFrames) ? OnFrames(read) : read;
    }

    // Both ends, each by itself, so that clips that touched still do. Its sound begins where it began: that is what moves.
    private Clip OnFrames(Clip clip)
    {
        var (start, end) = (OnFrame(clip.Start), OnFrame(clip.End));
        return Within(clip with { Start = start, Length = end - start });
    }

    private long OnFrame(long sample) => (new Rational((new Rational(sample, 1) / _frame).RoundToEven(), 1) * _frame).RoundToEven();

    private List<Clip> Apart(List<Clip> clips)
    {
        for (var i = 0; i + 1 < clips.Count; i++)
        {
            var (clip, next) = (clips[i], clips[i + 1]);
            if (clip.End <= next.Start || !(_limits.Has(ReadingLimit.Crossfades) || _limits.Has(ReadingLimit.Fades)))
            {
                continue;
            }

            clips[i] = Within(clip with { Length = Math.Max(0, next.Start - clip.Start), FadeOut = Fade.None });
            clips[i + 1] = next with { FadeIn = Fade.None };
        }

        return [.. clips.Where(c => c.Length > 0)];
    }

    private static Clip Within(Clip clip) => clip with
    {
        FadeIn = clip.FadeIn with { Length = Math.Min(clip.FadeIn.Length, clip.Length) },
        FadeOut = clip.FadeOut with { Length = Math.Min(clip.FadeOut.Length, clip.Length) },
    };

    private string Called(string name)
    {
        var kept = SheetNames.Kept(name, _limits.Letters);
        return _limits.LongestName is { } longest ? SheetNames.Shortened(kept, longest) : kept;
    }
}
