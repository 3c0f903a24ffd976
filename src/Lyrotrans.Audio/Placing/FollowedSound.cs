namespace Lyrotrans.Audio.Placing;

/// <summary>A sound that was followed through another that holds it, and what the other is to it.</summary>
/// <param name="Start">The sample of the sound that the other's first lies on, with its fraction, in samples of the other's rate.</param>
/// <param name="Drift">How much faster the other runs than the sound, as a ratio; 0 where it runs as fast.</param>
/// <param name="GainDb">Level of the other less that of the sound.</param>
/// <param name="IsInverted">Whether its polarity is the other one.</param>
/// <param name="Likeness">The middle of how much stretches of the two are alike, 0 to 1.</param>
/// <param name="Agreeing">How many stretches lie where all together say.</param>
/// <param name="Looked">Of so many, spread over all of it where the sound sounds.</param>
public sealed record FollowedSound(double Start, double Drift, double GainDb, bool IsInverted, double Likeness, int Agreeing, int Looked)
{
    // That a stretch that is of another sound lies so near by chance.
    private const double OneByChance = 0.15;
    private const double LeastChance = 1e-6;

    /// <summary>Whether so many stretches do not lie there by chance.</summary>
    public bool IsNoChance => Chance < LeastChance;

    private double Chance
    {
        get
        {
            var (sum, term) = (0.0, Math.Pow(1 - OneByChance, Looked));
            for (var k = 0; k <= Looked; k++)
            {
                sum += k >= Agreeing ? term : 0;
                term *= (double)(Looked - k) / (k + 1) * OneByChance / (1 - OneByChance);
            }

            return sum;
        }
    }
}
