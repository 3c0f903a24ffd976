namespace Lyrotrans.Core.Proof;

/// <summary>What is left when the mix that is made here is taken from a guide mix that came along: what nothing here brings.</summary>
/// <param name="PerSecondDb">The largest sample of every second in dBFS; −∞ where nothing is left.</param>
/// <param name="BoundDb">What rounding may leave.</param>
public sealed record GuideRest(IReadOnlyList<double> PerSecondDb, double BoundDb)
{
    /// <summary>The largest sample of all, in dBFS; −∞ where nothing is left.</summary>
    public double WorstDb => PerSecondDb.DefaultIfEmpty(double.NegativeInfinity).Max();

    /// <summary>The second from the files' beginning, from 1, in which most is left.</summary>
    public int LoudestSecond => PerSecondDb.Count == 0 ? 0 : PerSecondDb.Index().MaxBy(s => s.Item).Index + 1;
}
