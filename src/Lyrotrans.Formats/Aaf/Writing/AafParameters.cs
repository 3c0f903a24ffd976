using Lyrotrans.Formats.Edits;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>Parameters of operations: constants, curves over a group's length, and the levels of a fade.</summary>
/// <remarks>docs/formats/aaf.md, sections 5 and 6.</remarks>
internal static class AafParameters
{
    public static (byte[], AafNode) Constant(Guid definition, Ratio32 value) => (definition.ToByteArray(), new AafNode("ConstantValue")
        .Id(AafPid.ParameterDefinition, definition)
        .Indirect(AafPid.ConstantValue, "Rational", value.Bytes()));

    /// <summary>
    /// Points along a group. A gain that is straight in dB is straight in the logarithm of its multiplier; so such a curve has the logarithmic
    /// interpolation, and its points lie on their samples whatever a reader makes of it.
    /// </summary>
    /// <param name="definition">Of the parameter.</param>
    /// <param name="curve">The points.</param>
    /// <param name="between">How a reader gets from point to point.</param>
    /// <param name="length">Of the group, in samples.</param>
    /// <param name="value">Of a point.</param>
    public static (byte[], AafNode) Curve(Guid definition, Automation curve, string between, Rational length, Func<double, Ratio32> value) =>
        Varying(definition, curve.Interpolation == Interpolation.Step ? "Constant" : between, curve.Points.Select(p => (Ratio32.Of(p.Sample / length), value(p.Value))));

    /// <summary>The levels of a transition: one where both sides fade by one known shape, else one for each side.</summary>
    public static IReadOnlyList<(byte[], AafNode)> Levels(Fade outgoing, Fade incoming) => NeedsTwo(outgoing, incoming)
        ? [Level(AafDictionary.Outgoing, outgoing, true), Level(AafDictionary.Incoming, incoming, false)]
        : [Level(AafDictionary.Level, incoming, false)];

    public static bool NeedsTwo(Fade outgoing, Fade incoming) => outgoing.Shape != incoming.Shape || incoming.Shape == FadeShape.Sampled;

    private static (byte[], AafNode) Level(Guid definition, Fade fade, bool falls)
    {
        IReadOnlyList<(Ratio32, Ratio32)> points = fade.Shape == FadeShape.Sampled
            ? [.. FadePoints.Of(fade, falls).Select(p => (Ratio32.Of(p.Place), Ratio32.Of(p.Gain)))]
            : [(new(0, 1), new(falls ? 1 : 0, 1)), (new(1, 1), new(falls ? 0 : 1, 1))];
        return Varying(definition, NameOf(fade.Shape), points);
    }

    private static string NameOf(FadeShape shape) => shape switch
    {
        FadeShape.Linear or FadeShape.Sampled => "Linear",
        FadeShape.EqualPower => "Power",
        FadeShape.Logarithmic => "Log",
        FadeShape.S => "BSpline",
        _ => throw new ArgumentException($"A fade of the shape {shape} cannot be written; it must be made one that can.", nameof(shape)),
    };

    private static (byte[], AafNode) Varying(Guid definition, string between, IEnumerable<(Ratio32 Time, Ratio32 Value)> points) => (definition.ToByteArray(), new AafNode("VaryingValue")
        .Id(AafPid.ParameterDefinition, definition)
        .Weak(AafPid.Interpolation, AafPath.Interpolations, AafModel.Definition($"InterpolationDef_{between}"))
        .OwnVector(AafPid.PointList, [.. points.Select(p => new AafNode("ControlPoint").Indirect(AafPid.PointValue, "Rational", p.Value.Bytes()).Data(AafPid.PointTime, p.Time.Bytes()))]));
}
