namespace Lyrotrans.Audio.Placing;

/// <summary>Where a sound was found that was looked for in all of what was sent.</summary>
/// <param name="Likely">By the phases of its loudest excerpt, the likeliest first.</param>
/// <param name="Alike">The most alike places as it sounds, over all that was sent, the most alike first; how much is their <see cref="PartnerPlace.Correlation"/>.</param>
public sealed record PartnerPlaces(IReadOnlyList<PartnerPlace> Likely, IReadOnlyList<PartnerPlace> Alike)
{
    // Of a sound of so many stretches or more, chance is told by how many of them agree.
    private const int Several = 3;

    // Of the energy, what is left of what is the same: places of one loop differ by less.
    private const double Rounded = 5e-4;

    /// <summary>
    /// Whether the most alike place of all is one, and leaves so much less of the sound than any other place does that it is not the likest of many by chance. Others at that same place, which may be the same sound, do not count.
    /// </summary>
    /// <param name="of">The number of what was sent.</param>
    /// <param name="place">Its sample that the sound's first lies on.</param>
    /// <param name="apart">Samples that places differ by that are one.</param>
    /// <param name="stretches">So many stretches of the sound lie there.</param>
    public bool StandsAlone(int of, double place, double apart, int stretches)
    {
        bool Is(PartnerPlace p) => Math.Abs(p.Place - place) <= apart;
        var here = Alike.Where(p => p.Of == of && Is(p)).Select(p => (PartnerPlace?)p).FirstOrDefault();
        var other = Alike.Where(p => !Is(p)).Select(p => p.Correlation).DefaultIfEmpty(0).Max();
        return here is { } found && Left(found.Correlation) * LeastRatio(stretches) < Left(other);
    }

    private static double Left(double correlation) => 1 - (correlation * correlation) + Rounded;

    private static double LeastRatio(int stretches) => stretches >= Several ? 1.5 : stretches == 2 ? 3 : 6;
}
