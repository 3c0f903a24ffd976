using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Omf.Writing;

/// <summary>One track as a segment: a sequence of clips, silence and transitions, with the track's own gain and pan around it.</summary>
/// <remarks>docs/formats/omf.md, section 6.</remarks>
internal sealed class OmfTrack(OmfBuilder build, OmfMobs mobs, Session session, Track track, IReadOnlyDictionary<string, Media> media, Rational unit)
{
    private readonly string _data = OmfMobs.DataOf(track.Channels);

    private string Prefix => track.Channels == 2 ? "Stereo" : "Mono";

    public uint Segment(long length, bool fadesAsProperties)
    {
        var parts = TrackSequence.Of(track, unit, fadesAsProperties, length).Select(part => part switch
        {
            SequencePart.Silence => build.Segment("FILL", _data, part.Length),
            SequencePart.Transition transition => Crossing(transition),
            SequencePart.Sound sound => Sounding(sound),
            _ => throw new ArgumentOutOfRangeException(nameof(length)),
        }).ToList();
        var sequence = build.Segment("SEQU", _data, length);
        build.Refer(sequence, "OMFI:SEQU:Components", parts);
        return Mixed(sequence, length);
    }

    private uint Crossing(SequencePart.Transition part)
    {
        var straight = part.Incoming.Shape == FadeShape.Linear && part.Outgoing.Shape == FadeShape.Linear;
        var effect = build.Segment("EFFE", _data, part.Length);
        build.Refer(effect, "OMFI:EFFE:EffectKind", build.Effect(straight ? track.Channels == 2 ? "StereoAudioDissolve" : "SimpleMonoAudioDissolve" : $"{Prefix}AudioDissolve"));
        build.Refer(effect, "OMFI:EFFE:EffectSlots", straight ? [] : [Argument(OmfOpenChoices.LevelArgument, Level(part))]);
        var transition = build.Segment("TRAN", _data, part.Length);
        build.Refer(transition, "OMFI:TRAN:Effect", effect);
        build.Units(transition, "OMFI:TRAN:CutPoint", "Position", part.Cut);
        return transition;
    }

    // One level for both sides: what comes in, and one less what goes out. A fade out to silence is said by what goes out.
    private uint Level(SequencePart.Transition part)
    {
        var falls = part.Cut == part.Length;
        var fade = falls ? part.Outgoing : part.Incoming;
        if (fade.Shape != FadeShape.Sampled)
        {
            throw new ArgumentException($"A fade of the shape {fade.Shape} cannot be written; it must be made one that can.");
        }

        return Curve(part.Length, OmfOpenChoices.StraightBetween, FadePoints.Of(fade, falls).Select(p => (Ratio32.Of(p.Place), Ratio32.Of(falls ? 1 - p.Gain : p.Gain))));
    }

    private uint Sounding(SequencePart.Sound part)
    {
        var (clip, length) = (part.Clip, part.Length);
        var medium = media[clip.Media];
        var node = mobs.Clip(_data, length, mobs.MasterId(medium), OmfMobs.SlotOf(medium, track.Channels == 1 ? clip.ChannelMap[0] : null), TrackSequence.SourceStart(session, clip, medium, unit));
        AddFade(node, part.FadeIn, "FadeIn");
        AddFade(node, part.FadeOut, "FadeOut");
        if (clip.GainCurve is { } curve)
        {
            node = Effect($"{Prefix}AudioGain", length, node, Curve(length, curve, length * unit, Ratio32.OfDecibels));
        }

        if (clip.GainDb != 0)
        {
            node = Effect($"{Prefix}AudioGain", length, node, Constant(length, Ratio32.OfDecibels(clip.GainDb)));
        }

        if (!clip.Muted)
        {
            return node;
        }

        // Silence chosen, and the sound beside it: how a muted clip is said.
        var selector = build.Segment("SLCT", _data, length);
        build.Flag(selector, "OMFI:SLCT:IsGanged", false);
        build.Refer(selector, "OMFI:SLCT:Selected", build.Segment("FILL", _data, length));
        build.Refer(selector, "OMFI:SLCT:Alternates", [node]);
        return selector;
    }

    private void AddFade(uint clip, Fade fade, string side)
    {
        if (fade.Length > 0)
        {
            build.Units(clip, $"OMFI:SCLP:{side}Length", "Length", (fade.Length / unit).RoundToEven());
            build.Short(clip, $"OMFI:SCLP:{side}Type", "omfi:FadeType", fade.Shape == FadeShape.EqualPower ? OmfOpenChoices.EqualPowerFade : OmfOpenChoices.LinearFade);
        }
    }

    private uint Mixed(uint segment, long length)
    {
        var samples = length * unit;
        if (track.FaderAutomation is { } ride)
        {
            segment = Effect($"{Prefix}AudioGain", length, segment, Curve(length, ride, samples, Ratio32.OfDecibels));
        }

        if (track.FaderDb != 0)
        {
            segment = Effect($"{Prefix}AudioGain", length, segment, Constant(length, Ratio32.OfDecibels(track.FaderDb)));
        }

        if (track.PanAutomation is { } moves)
        {
            segment = Effect("MonoAudioPan", length, segment, Curve(length, moves, samples, Place));
        }

        return track.Pan == 0 ? segment : Effect("MonoAudioPan", length, segment, Constant(length, Place(track.Pan)));
        static Ratio32 Place(double pan) => Ratio32.Of((pan + 1) / 2);
    }

    private uint Effect(string kind, long length, uint input, uint value)
    {
        var effect = build.Segment("EFFE", _data, length);
        build.Refer(effect, "OMFI:EFFE:EffectKind", build.Effect(kind));
        build.Refer(effect, "OMFI:EFFE:EffectSlots", [Argument(OmfOpenChoices.InputArgument, input), Argument(OmfOpenChoices.ValueArgument, value)]);
        return effect;
    }

    private uint Argument(int number, uint value)
    {
        var argument = build.Object("ESLT");
        build.Whole(argument, "OMFI:ESLT:ArgID", "omfi:ArgIDType", number);
        build.Refer(argument, "OMFI:ESLT:ArgValue", value);
        return argument;
    }

    private uint Constant(long length, Ratio32 value)
    {
        var constant = build.Segment("CVAL", "Rational", length);
        build.Ratio(constant, "OMFI:CVAL:Value", value, "omfi:DataValue");
        return constant;
    }

    private uint Curve(long length, Automation curve, Rational samples, Func<double, Ratio32> value) =>
        Curve(length, curve.Interpolation == Interpolation.Step ? OmfOpenChoices.HoldsBetween : OmfOpenChoices.StraightBetween, curve.Points.Select(p => (Ratio32.Of(p.Sample / samples), value(p.Value))));

    private uint Curve(long length, short between, IEnumerable<(Ratio32 Time, Ratio32 Value)> points)
    {
        var list = points.Select(p =>
        {
            var point = build.Object("CTLP");
            build.Ratio(point, "OMFI:CTLP:Time", p.Time);
            build.Ratio(point, "OMFI:CTLP:Value", p.Value, "omfi:DataValue");
            build.Refer(point, "OMFI:CTLP:DataKind", build.DataKind("Rational"));
            return point;
        }).ToList();
        var curve = build.Segment("VVAL", "Rational", length);
        build.Short(curve, "OMFI:VVAL:Interpolation", "omfi:InterpKind", between);
        build.Refer(curve, "OMFI:VVAL:PointList", list);
        return curve;
    }
}
