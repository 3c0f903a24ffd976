using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Routing;

/// <summary>The gains of pan laws.</summary>
public static class PanLaws
{
    /// <summary>Gains of left and right for a mono sound at a place from −1 to 1.</summary>
    public static (double Left, double Right) Gains(this PanLaw law, double pan)
    {
        pan = Math.Clamp(pan, -1, 1);
        if (law == PanLaw.Zero)
        {
            return Balance(pan);
        }

        var power = law switch { PanLaw.Minus4Point5 => 1.5, PanLaw.Minus6 => 2, _ => 1.0 };
        var angle = (pan + 1) * Math.PI / 4;
        return (pan == 1 ? 0 : Math.Pow(Math.Cos(angle), power), pan == -1 ? 0 : Math.Pow(Math.Sin(angle), power));
    }

    /// <summary>Gains of the two channels of a stereo sound: 1 and 1 in the centre, the far one lower.</summary>
    public static (double Left, double Right) Balance(double pan) => (Math.Min(1, 1 - pan), Math.Min(1, 1 + pan));

    /// <summary>Such as <c>−4.5 dB</c>.</summary>
    public static string Words(this PanLaw law) => law switch { PanLaw.Zero => "0 dB", PanLaw.Minus4Point5 => "−4.5 dB", PanLaw.Minus6 => "−6 dB", _ => "−3 dB" };
}
