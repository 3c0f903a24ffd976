namespace Lyrotrans.Audio.Placing;

/// <summary>Where a sound was found in another.</summary>
/// <param name="Sample">The sample of the reference that the sound's first sample lies on, with its fraction; below 0 where the sound begins before the reference.</param>
/// <param name="Agreement">Of the stretches of the sound that were looked at, how many lie there: 0 to 1.</param>
/// <param name="Agreeing">The same as a number.</param>
/// <param name="Clearness">How far the likeness at this place stands above that of any place, in standard deviations.</param>
/// <param name="Second">The next best place, if there is any; at its own sample.</param>
/// <param name="SecondAgreement">How many stretches lie there.</param>
/// <param name="Correlation">At the place, over the stretches that lie there; 1 where the reference holds the sound alone.</param>
/// <param name="GainDb">Level in the reference less that of the sound.</param>
/// <param name="Inverted">Whether its polarity is the other one in the reference.</param>
public readonly record struct SignalPlace(
    double Sample, double Agreement, int Agreeing, double Clearness, long? Second, double SecondAgreement, double Correlation, double GainDb, bool Inverted)
{
    private const double LeastAgreement = 0.6;
    private const double LeastCorrelation = 0.45;
    private const double LeastClearness = 9;
    private const double MostSecond = 0.5;

    // So many stretches that lie at one place do not lie there by chance, though others drown everything else.
    private const int Several = 4;
    private const double LeastOfSeveral = 0.2;
    private const double LeastCorrelationOfSeveral = 0.06;

    /// <summary>The nearest whole sample.</summary>
    public long Nearest => (long)Math.Round(Sample, MidpointRounding.ToEven);

    /// <summary>0 to 1: how many stretches agree, less by how nearly as many would agree on another place.</summary>
    public double Certainty => Math.Max(0, Agreement - SecondAgreement);

    /// <summary>Whether there is no other place it could be at.</summary>
    public bool IsSure => Clearness >= LeastClearness && SecondAgreement <= MostSecond * Agreement
        && ((Agreement >= LeastAgreement && Correlation >= LeastCorrelation) || (Agreeing >= Several && Agreement >= LeastOfSeveral && Correlation >= LeastCorrelationOfSeveral));
}
