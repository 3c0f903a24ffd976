namespace Lyrotrans.Core.Sessions;

/// <summary>
/// How a mono sound is laid between left and right. In the centre each side has 0, −3, −4.5 or −6 dB; at a side that side has 0 dB. Between, −3 is the sine and
/// cosine of the place, −4.5 and −6 their powers of 1.5 and 2, and 0 lowers the far side only, in a straight line. A sound of two channels is balanced as by 0 dB.
/// </summary>
public enum PanLaw
{
    Minus3,
    Zero,
    Minus4Point5,
    Minus6,
}
