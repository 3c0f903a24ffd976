using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>Lays the clips of a track out as the parts of one sequence: sound, silence, and transitions that overlap what lies beside them.</summary>
internal sealed class TrackSequence
{
    private readonly Rational _unit;
    private readonly bool _asProperties;
    private readonly List<SequencePart> _parts = [];
    private long _at;

    private TrackSequence(Rational unit, bool asProperties)
    {
        _unit = unit;
        _asProperties = asProperties;
    }

    /// <param name="track">With one lane, whose clips do not overlap but in crossfades as long as their fades.</param>
    /// <param name="unit">Samples in an edit unit.</param>
    /// <param name="fadesAsProperties">Fades from and to silence are properties of their clips, not transitions.</param>
    /// <param name="length">Of the whole, in edit units; at least to the end of the last clip.</param>
    public static IReadOnlyList<SequencePart> Of(Track track, Rational unit, bool fadesAsProperties, long length)
    {
        var sequence = new TrackSequence(unit, fadesAsProperties);
        sequence.Lay(track.Sounding?.Clips ?? [], length);
        return sequence._parts;
    }

    /// <summary>To the end of the last clip and the last point of automation of any track, and not nothing; in edit units.</summary>
    public static long LengthOf(Session session, Rational unit)
    {
        var end = session.Tracks.SelectMany(t => new[] { t.FaderAutomation, t.PanAutomation }).OfType<Automation>().SelectMany(a => a.Points).Select(p => p.Sample + 1)
            .Append(session.EndSample).Append(1).Max();
        return (long)(end / unit).Ceiling();
    }

    /// <summary>Where in its medium a clip begins, in edit units.</summary>
    public static long SourceStart(Session session, Clip clip, Media media, Rational unit) => unit == 1 && media.Rate == session.Rate
        ? clip.SourceOffset
        : (clip.SourceOffset * session.Rate.PerSecond / media.Rate.PerSecond / unit).RoundToEven();

    private void Lay(Core.Collections.ValueArray<Clip> clips, long length)
    {
        Clip? before = null;
        for (var i = 0; i < clips.Count; i++)
        {
            var clip = clips[i];
            var crosses = _at > Units(clip.Start);
            Join(before, clip);
            var crossesNext = i + 1 < clips.Count && clips[i + 1].Start < clip.End;
            _parts.Add(new SequencePart.Sound(Units(clip.End) - Units(clip.Start), clip, _asProperties && !crosses ? clip.FadeIn : Fade.None, _asProperties && !crossesNext ? clip.FadeOut : Fade.None));
            _at = Units(clip.End);
            before = clip;
        }

        var falls = before is null ? 0 : FadeUnits(before.FadeOut);
        if (falls > 0)
        {
            _parts.Add(new SequencePart.Transition(falls, before!.FadeOut, before.FadeOut, falls));
        }

        AddSilence(length - _at + falls);
    }

    private long Units(long sample) => _unit == 1 ? sample : (sample / _unit).RoundToEven();

    private long FadeUnits(Fade fade) => _asProperties ? 0 : Units(fade.Length);

    /// <summary>What lies between two clips: a crossfade where they overlap, else silence with the fades that reach into it.</summary>
    private void Join(Clip? before, Clip clip)
    {
        var start = Units(clip.Start);
        if (start < _at)
        {
            _parts.Add(new SequencePart.Transition(_at - start, before!.FadeOut, clip.FadeIn, (_at - start) / 2));
            return;
        }

        var (falls, rises) = (before is null ? 0 : FadeUnits(before.FadeOut), FadeUnits(clip.FadeIn));
        if (falls > 0)
        {
            _parts.Add(new SequencePart.Transition(falls, before!.FadeOut, before.FadeOut, falls));
        }

        AddSilence(start - _at + falls + rises);
        if (rises > 0)
        {
            _parts.Add(new SequencePart.Transition(rises, clip.FadeIn, clip.FadeIn, 0));
        }
    }

    private void AddSilence(long length)
    {
        if (length > 0)
        {
            _parts.Add(new SequencePart.Silence(length));
        }
    }
}
