using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Rates;

/// <summary>What rates can be worked with.</summary>
public static class RateLimits
{
    /// <summary>Rates farther apart than so many times are not converted.</summary>
    public const int MostTimes = 64;

    /// <summary>The fastest rate at which stand-in sounds are made, in samples a second.</summary>
    public const int FastestStandInHz = 96_000;

    /// <summary>Whether rates are near enough to each other to be converted.</summary>
    public static bool CanConvert(SampleRate from, SampleRate to) =>
        to.PerSecond <= from.PerSecond * MostTimes && from.PerSecond <= to.PerSecond * MostTimes;
}
