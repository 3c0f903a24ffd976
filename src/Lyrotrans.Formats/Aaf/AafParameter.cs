using System.Buffers.Binary;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Aaf;

/// <summary>Reads the parameters of operations: constants, curves and the levels of fades.</summary>
/// <remarks>docs/formats/aaf.md, sections 5 and 6.</remarks>
internal sealed class AafParameter(AafFile file)
{
    private static readonly Guid s_level = AafModel.Definition("ParameterDef_Level");
    private static readonly Guid s_outgoing = AafModel.Definition("ParameterDef_OutgoingLevel");
    private static readonly Guid s_incoming = AafModel.Definition("ParameterDef_IncomingLevel");
    private static readonly Dictionary<Guid, FadeShape> s_shapes = new()
    {
        [AafModel.Definition("InterpolationDef_Linear")] = FadeShape.Linear,
        [AafModel.Definition("InterpolationDef_Power")] = FadeShape.EqualPower,
        [AafModel.Definition("InterpolationDef_Log")] = FadeShape.Logarithmic,
        [AafModel.Definition("InterpolationDef_BSpline")] = FadeShape.S,
    };

    private static readonly Dictionary<Guid, EditBetween> s_between = new()
    {
        [AafModel.Definition("InterpolationDef_Linear")] = EditBetween.Straight,
        [AafModel.Definition("InterpolationDef_Log")] = EditBetween.StraightInDb,
        [AafModel.Definition("InterpolationDef_Constant")] = EditBetween.Hold,
        [AafModel.Definition("InterpolationDef_None")] = EditBetween.Hold,
    };

    /// <summary>A parameter's constant, or its points along a length. A group's only parameter counts whatever it is called.</summary>
    public (double? Constant, EditCurve Points) Value(AafObject group, Guid definition, Rational length)
    {
        var parameters = group.Objects(AafPid.Parameters).ToList();
        var parameter = ByDefinition(parameters, definition) ?? (parameters.Count == 1 ? parameters[0] : null);
        if (parameter is null)
        {
            return (null, EditCurve.None);
        }

        if (parameter.Is("ConstantValue"))
        {
            return (Number(parameter, AafPid.ConstantValue), EditCurve.None);
        }

        var points = Points(parameter).Select(p => new EditPoint(p.Time * length, p.Value)).ToList();
        return (null, points.Count == 0 ? EditCurve.None : new EditCurve(points, Between(parameter)));
    }

    /// <summary>How a transition fades the sound before it out and the one after it in.</summary>
    public (EditFade Out, EditFade In) Fades(AafObject transition, Rational length)
    {
        var parameters = transition.Object(AafPid.TransitionOperation)?.Objects(AafPid.Parameters).ToList() ?? [];
        var (falls, rises) = (ByDefinition(parameters, s_outgoing), ByDefinition(parameters, s_incoming));
        if (falls is not null || rises is not null)
        {
            var into = rises is null ? new EditFade(length, FadeShape.Linear) : Fade(rises, length, false);
            return (falls is null ? into : Fade(falls, length, true), into);
        }

        var level = ByDefinition(parameters, s_level) ?? parameters.Find(p => p.Is("VaryingValue"));
        if (level is null || !level.Is("VaryingValue"))
        {
            file.Findings.Add(EditCodes.FadeCurve, string.Empty, "A transition does not say how it fades; it is taken as linear.");
            return (new EditFade(length, FadeShape.Linear), new EditFade(length, FadeShape.Linear));
        }

        // A level that goes by points says the mix: what comes in, and what is left of what goes out.
        return LevelCurve.Mix(Fade(level, length, false));
    }

    private static AafObject? ByDefinition(List<AafObject> parameters, Guid definition) =>
        parameters.Find(p => (p.Id(AafPid.ParameterDefinition) ?? p.Weak(AafPid.ParameterDefinition)) == definition);

    private EditFade Fade(AafObject level, Rational length, bool falls) =>
        LevelCurve.Fade(Points(level).ToList(), length, Shape(level), falls, file.Findings);

    private FadeShape Shape(AafObject level) => level.Weak(AafPid.Interpolation) is { } id && s_shapes.TryGetValue(id, out var shape) ? shape : Unknown(level, FadeShape.Linear);

    private EditBetween Between(AafObject curve) => curve.Weak(AafPid.Interpolation) is { } id && s_between.TryGetValue(id, out var between) ? between : Unknown(curve, EditBetween.Straight);

    private T Unknown<T>(AafObject curve, T taken)
    {
        file.Findings.Add(AafCodes.Interpolation, string.Empty, $"The interpolation {(curve.Weak(AafPid.Interpolation) is { } id ? file.NameOf(id) : "without a name")} is not known here; it is taken as linear.");
        return taken;
    }

    private static IEnumerable<(Rational Time, double Value)> Points(AafObject curve)
    {
        foreach (var point in curve.Objects(AafPid.PointList))
        {
            if (point.Ratio(AafPid.PointTime) is { } time && Number(point, AafPid.PointValue) is { } value)
            {
                yield return (time, value);
            }
        }
    }

    private static double? Number(AafObject owner, ushort pid) => owner.Indirect(pid) is { } value
        ? value.Length switch { >= 8 => AafObject.RatioOf(value.Span)?.ToDouble(), >= 4 => BinaryPrimitives.ReadInt32LittleEndian(value.Span), _ => null }
        : null;
}
