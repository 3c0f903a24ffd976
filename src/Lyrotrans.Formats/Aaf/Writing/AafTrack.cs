using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>One track as a segment: a sequence of clips, silence and transitions, with the track's own gain and pan around it.</summary>
internal sealed class AafTrack
{
    private readonly Session _session;
    private readonly Track _track;
    private readonly AafForm _form;
    private readonly AafMobs _mobs;
    private readonly IReadOnlyDictionary<string, Media> _media;
    private readonly Rational _unit;
    private readonly bool _isStereo;
    private readonly List<AafNode> _components = [];
    private long _at;

    private AafTrack(Session session, Track track, AafForm form, AafMobs mobs, IReadOnlyDictionary<string, Media> media)
    {
        _session = session;
        _track = track;
        _form = form;
        _mobs = mobs;
        _media = media;
        _unit = UnitOf(session, form);
        _isStereo = track.Channels == 2;
    }

    /// <summary>Samples in an edit unit.</summary>
    public static Rational UnitOf(Session session, AafForm form) => form.EditRate is { } rate ? session.Rate.PerSecond / rate : 1;

    /// <param name="session">Of the track.</param>
    /// <param name="track">With one lane whose clips the format can say: <see cref="AafWriter.Write"/>.</param>
    /// <param name="form">How it is written.</param>
    /// <param name="mobs">Of the media.</param>
    /// <param name="media">By identifier.</param>
    /// <param name="length">Of every track, in edit units; at least to the end of the last clip.</param>
    public static AafNode Segment(Session session, Track track, AafForm form, AafMobs mobs, IReadOnlyDictionary<string, Media> media, long length) =>
        new AafTrack(session, track, form, mobs, media).Segment(length);

    private AafNode Segment(long length)
    {
        Clip? before = null;
        var clips = _track.Sounding?.Clips ?? [];
        for (var i = 0; i < clips.Count; i++)
        {
            var clip = clips[i];
            Join(before, clip);
            _components.Add(Sounding(clip, _at > Units(clip.Start), i + 1 < clips.Count && clips[i + 1].Start < clip.End));
            _at = Units(clip.End);
            before = clip;
        }

        var tail = length - _at;
        if (before is not null && FadeUnits(before.FadeOut) > 0)
        {
            AddTransition(before.FadeOut, before.FadeOut, FadeUnits(before.FadeOut), FadeUnits(before.FadeOut));
            tail += FadeUnits(before.FadeOut);
        }

        AddSilence(tail);
        return Mixed(AafMobs.Segment("Sequence", AafDictionary.Sound, length).OwnVector(AafPid.Components, _components), length);
    }

    private long Units(long sample) => _unit == 1 ? sample : (sample / _unit).RoundToEven();

    // As properties, fades from and to silence need no transition.
    private long FadeUnits(Fade fade) => _form.FadesAsProperties ? 0 : Units(fade.Length);

    /// <summary>What lies between two clips: a crossfade where they overlap, else silence with the fades that reach into it.</summary>
    private void Join(Clip? before, Clip clip)
    {
        var start = Units(clip.Start);
        if (start < _at)
        {
            var overlap = _at - start;
            AddTransition(before!.FadeOut, clip.FadeIn, overlap, overlap / 2);
            return;
        }

        var (falls, rises) = (before is null ? 0 : FadeUnits(before.FadeOut), FadeUnits(clip.FadeIn));
        if (falls > 0)
        {
            AddTransition(before!.FadeOut, before.FadeOut, falls, falls);
        }

        AddSilence(start - _at + falls + rises);
        if (rises > 0)
        {
            AddTransition(clip.FadeIn, clip.FadeIn, rises, 0);
        }
    }

    private void AddSilence(long length)
    {
        if (length > 0)
        {
            _components.Add(AafMobs.Segment("Filler", AafDictionary.Sound, length));
        }
    }

    private void AddTransition(Fade outgoing, Fade incoming, long length, long cut)
    {
        var operation = AafParameters.NeedsTwo(outgoing, incoming) ? AafDictionary.TwoLevelDissolve : _isStereo ? AafDictionary.StereoDissolve : AafDictionary.Dissolve;
        var group = AafMobs.Segment("OperationGroup", AafDictionary.Sound, length)
            .Weak(AafPid.Operation, AafPath.Operations, operation)
            .OwnSet(AafPid.Parameters, AafPid.DefinitionId, AafParameters.Levels(outgoing, incoming));
        _components.Add(AafMobs.Segment("Transition", AafDictionary.Sound, length).Own(AafPid.TransitionOperation, group).Long(AafPid.CutPoint, cut));
    }

    private AafNode Sounding(Clip clip, bool crossesBefore, bool crossesAfter)
    {
        var media = _media[clip.Media];
        var length = Units(clip.End) - Units(clip.Start);
        var start = _unit == 1 && media.Rate == _session.Rate ? clip.SourceOffset : (clip.SourceOffset * _session.Rate.PerSecond / media.Rate.PerSecond / _unit).RoundToEven();
        var node = AafMobs.Clip(AafDictionary.Sound, length, _mobs.MasterId(media), AafMobs.SlotOf(media, _track.Channels == 1 ? clip.ChannelMap[0] : null), start);
        if (_form.FadesAsProperties)
        {
            AddFade(node, crossesBefore ? Fade.None : clip.FadeIn, AafPid.FadeInLength, AafPid.FadeInType);
            AddFade(node, crossesAfter ? Fade.None : clip.FadeOut, AafPid.FadeOutLength, AafPid.FadeOutType);
        }

        if (clip.GainCurve is { } curve)
        {
            node = Group(Gain, length, node, AafParameters.Curve(AafDictionary.Amplitude, curve, "Log", length * _unit, AafRatio.OfDecibels));
        }

        if (clip.GainDb != 0)
        {
            node = Group(Gain, length, node, AafParameters.Constant(AafDictionary.Amplitude, AafRatio.OfDecibels(clip.GainDb)));
        }

        // Silence chosen, and the sound beside it: how a muted clip is said.
        return clip.Muted
            ? AafMobs.Segment("Selector", AafDictionary.Sound, length)
                .Own(AafPid.Selected, AafMobs.Segment("Filler", AafDictionary.Sound, length))
                .OwnVector(AafPid.Alternates, [node])
            : node;
    }

    private void AddFade(AafNode node, Fade fade, ushort length, ushort type)
    {
        if (fade.Length > 0)
        {
            node.Long(length, Units(fade.Length)).Data(type, [fade.Shape == FadeShape.EqualPower ? (byte)2 : (byte)1]);
        }
    }

    private Guid Gain => _isStereo ? AafDictionary.StereoGain : AafDictionary.Gain;

    private AafNode Mixed(AafNode segment, long length)
    {
        var samples = length * _unit;
        if (_track.FaderAutomation is { } ride)
        {
            segment = Group(Gain, length, segment, AafParameters.Curve(AafDictionary.Amplitude, ride, "Log", samples, AafRatio.OfDecibels));
        }

        if (_track.FaderDb != 0)
        {
            segment = Group(Gain, length, segment, AafParameters.Constant(AafDictionary.Amplitude, AafRatio.OfDecibels(_track.FaderDb)));
        }

        if (_track.PanAutomation is { } moves)
        {
            segment = Group(AafDictionary.Pan, length, segment, AafParameters.Curve(AafDictionary.PanPlace, moves, "Linear", samples, Place));
        }

        return _track.Pan == 0 ? segment : Group(AafDictionary.Pan, length, segment, AafParameters.Constant(AafDictionary.PanPlace, Place(_track.Pan)));
        static AafRatio Place(double pan) => AafRatio.Of((pan + 1) / 2);
    }

    private static AafNode Group(Guid operation, long length, AafNode input, (byte[], AafNode) parameter) => AafMobs.Segment("OperationGroup", AafDictionary.Sound, length)
        .Weak(AafPid.Operation, AafPath.Operations, operation)
        .OwnVector(AafPid.InputSegments, [input])
        .OwnSet(AafPid.Parameters, AafPid.DefinitionId, [parameter]);
}
