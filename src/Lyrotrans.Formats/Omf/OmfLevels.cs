using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Omf;

/// <summary>Reads the arguments of effects: constants, curves and the levels of fades.</summary>
/// <remarks>docs/formats/omf.md, section 6.</remarks>
internal static class OmfLevels
{
    private const int Hold = 1;

    /// <summary>The sound that goes into an effect: the first argument that is no number.</summary>
    public static OmfObject? Input(OmfObject effect) => Arguments(effect).FirstOrDefault(a => !IsNumber(a));

    /// <summary>The effect's number: a constant, or points along a length. It is the first argument that is one, whichever number it has.</summary>
    public static (double? Constant, EditCurve Points) Value(OmfObject effect, Rational length) => Arguments(effect).FirstOrDefault(IsNumber) switch
    {
        null => (null, EditCurve.None),
        { } constant when constant.Is("CVAL") => (constant.Number("OMFI:CVAL:Value"), EditCurve.None),
        { } curve => Curve(curve, length),
    };

    public static (EditFade Out, EditFade In) Fades(OmfFile file, OmfObject? effect, string kind, Rational length)
    {
        if (effect is not null && Arguments(effect).FirstOrDefault(a => a.Is("VVAL")) is { } level)
        {
            return LevelCurve.Mix(LevelCurve.Fade(Points(level).ToList(), length, FadeShape.Linear, false, file.Findings));
        }

        if (!kind.Contains("Simple", StringComparison.Ordinal))
        {
            file.Findings.Add(EditCodes.FadeCurve, string.Empty, "A transition does not say how it fades; it is taken as linear.");
        }

        return (new EditFade(length, FadeShape.Linear), new EditFade(length, FadeShape.Linear));
    }

    private static (double?, EditCurve) Curve(OmfObject curve, Rational length)
    {
        var points = Points(curve).Select(p => new EditPoint(p.Time * length, p.Value)).ToList();
        return (null, points.Count == 0 ? EditCurve.None : new EditCurve(points, curve.Whole("OMFI:VVAL:Interpolation") == Hold ? EditBetween.Hold : EditBetween.Straight));
    }

    private static IEnumerable<OmfObject> Arguments(OmfObject effect) => effect.Objects("OMFI:EFFE:EffectSlots").Select(s => s.Object("OMFI:ESLT:ArgValue")).OfType<OmfObject>();

    private static bool IsNumber(OmfObject argument) => argument.Is("CVAL") || argument.Is("VVAL");

    private static IEnumerable<(Rational Time, double Value)> Points(OmfObject curve)
    {
        foreach (var point in curve.Objects("OMFI:VVAL:PointList"))
        {
            if (point.Ratio("OMFI:CTLP:Time") is { } time && point.Number("OMFI:CTLP:Value") is { } value)
            {
                yield return (time, value);
            }
        }
    }
}
