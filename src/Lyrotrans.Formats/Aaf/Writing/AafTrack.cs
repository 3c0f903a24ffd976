using Lyrotrans.Formats.Edits;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>One track as a segment: a sequence of clips, silence and transitions, with the track's own gain and pan around it.</summary>
/// <remarks>docs/formats/aaf.md, sections 5 and 6.</remarks>
internal sealed class AafTrack
{
    private readonly Session _session;
    private readonly Track _track;
    private readonly AafForm _form;
    private readonly AafMobs _mobs;
    private readonly IReadOnlyDictionary<string, Media> _media;
    private readonly Rational _unit;
    private readonly bool _isStereo;

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
        var components = TrackSequence.Of(_track, _unit, _form.FadesAsProperties, length).Select(part => part switch
        {
            SequencePart.Silence => AafMobs.Segment("Filler", AafDictionary.Sound, part.Length),
            SequencePart.Transition transition => Crossing(transition),
            SequencePart.Sound sound => Sounding(sound),
            _ => throw new ArgumentOutOfRangeException(nameof(length)),
        });
        return Mixed(AafMobs.Segment("Sequence", AafDictionary.Sound, length).OwnVector(AafPid.Components, [.. components]), length);
    }

    private long Units(long sample) => _unit == 1 ? sample : (sample / _unit).RoundToEven();

    private AafNode Crossing(SequencePart.Transition part)
    {
        var operation = AafParameters.NeedsTwo(part.Outgoing, part.Incoming) ? AafDictionary.TwoLevelDissolve : _isStereo ? AafDictionary.StereoDissolve : AafDictionary.Dissolve;
        var group = AafMobs.Segment("OperationGroup", AafDictionary.Sound, part.Length)
            .Weak(AafPid.Operation, AafPath.Operations, operation)
            .OwnSet(AafPid.Parameters, AafPid.DefinitionId, AafParameters.Levels(part.Outgoing, part.Incoming));
        return AafMobs.Segment("Transition", AafDictionary.Sound, part.Length).Own(AafPid.TransitionOperation, group).Long(AafPid.CutPoint, part.Cut);
    }

    private AafNode Sounding(SequencePart.Sound part)
    {
        var (clip, length) = (part.Clip, part.Length);
        var media = _media[clip.Media];
        var node = AafMobs.Clip(
            AafDictionary.Sound, length, _mobs.MasterId(media), AafMobs.SlotOf(media, _track.Channels == 1 ? clip.ChannelMap[0] : null), TrackSequence.SourceStart(_session, clip, media, _unit));
        AddFade(node, part.FadeIn, AafPid.FadeInLength, AafPid.FadeInType);
        AddFade(node, part.FadeOut, AafPid.FadeOutLength, AafPid.FadeOutType);
        if (clip.Note.Length > 0)
        {
            node.OwnVector(AafPid.ComponentComments, [AafMobs.Comment(AafPid.NoteName, clip.Note)]);
        }

        if (clip.GainCurve is { } curve)
        {
            node = Group(Gain, length, node, AafParameters.Curve(AafDictionary.Amplitude, curve, "Log", length * _unit, Ratio32.OfDecibels));
        }

        if (clip.GainDb != 0)
        {
            node = Group(Gain, length, node, AafParameters.Constant(AafDictionary.Amplitude, Ratio32.OfDecibels(clip.GainDb)));
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
            segment = Group(Gain, length, segment, AafParameters.Curve(AafDictionary.Amplitude, ride, "Log", samples, Ratio32.OfDecibels));
        }

        if (_track.FaderDb != 0)
        {
            segment = Group(Gain, length, segment, AafParameters.Constant(AafDictionary.Amplitude, Ratio32.OfDecibels(_track.FaderDb)));
        }

        if (_track.PanAutomation is { } moves)
        {
            segment = Group(AafDictionary.Pan, length, segment, AafParameters.Curve(AafDictionary.PanPlace, moves, "Linear", samples, Place));
        }

        return _track.Pan == 0 ? segment : Group(AafDictionary.Pan, length, segment, AafParameters.Constant(AafDictionary.PanPlace, Place(_track.Pan)));
        static Ratio32 Place(double pan) => Ratio32.Of((pan + 1) / 2);
    }

    private static AafNode Group(Guid operation, long length, AafNode input, (byte[], AafNode) parameter) => AafMobs.Segment("OperationGroup", AafDictionary.Sound, length)
        .Weak(AafPid.Operation, AafPath.Operations, operation)
        .OwnVector(AafPid.InputSegments, [input])
        .OwnSet(AafPid.Parameters, AafPid.DefinitionId, [parameter]);
}
