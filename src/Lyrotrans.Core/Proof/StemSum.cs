namespace Lyrotrans.Core.Proof;

/// <summary>What is left when the mix is taken from the sum of the stems.</summary>
/// <param name="PerSecondDb">The largest sample of every second in dBFS; −∞ where nothing is left.</param>
/// <param name="BoundDb">What rounding may leave where everything in the way is linear.</param>
/// <param name="Bent">Effects in the way that are not linear.</param>
/// <param name="Clipped">Whether a stem or the mix was held at full scale, which is not linear either.</param>
/// <param name="MasterBends">Whether the master is one of them; stems taken before it then sum.</param>
public sealed record StemSum(IReadOnlyList<double> PerSecondDb, double BoundDb, IReadOnlyList<BentPath> Bent, bool MasterBends, bool Clipped = false)
{
    /// <summary>The largest sample of all, in dBFS; −∞ where nothing is left.</summary>
    public double WorstDb => PerSecondDb.DefaultIfEmpty(double.NegativeInfinity).Max();

    /// <summary>Where something bends the sum, the residual is stated and not held against the package.</summary>
    public bool Passed => Bent.Count > 0 || Clipped || WorstDb <= BoundDb;
}
