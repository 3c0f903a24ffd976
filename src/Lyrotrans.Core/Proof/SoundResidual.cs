namespace Lyrotrans.Core.Proof;

/// <summary>What is left when a found track is taken from the meant one: peak in dBFS (−∞ is bit-exact), and the bound it must keep.</summary>
/// <param name="Path">The file in the package.</param>
public sealed record SoundResidual(string Name, double PeakDb, double BoundDb, bool ArithmeticNeeded, string? Path = null)
{
    /// <summary>Whether nothing is left at all.</summary>
    public bool BitExact => double.IsNegativeInfinity(PeakDb);

    /// <summary>Whether nothing is left, or no more than its bound where arithmetic was needed.</summary>
    public bool Passed => BitExact || (ArithmeticNeeded && PeakDb <= BoundDb);
}
