using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Wave;

/// <summary>The places of a WAVE file that say its rate, besides the field that counts.</summary>
/// <remarks>docs/formats/sound.md, section 5.</remarks>
internal static class RateWords
{
    /// <param name="broadcast">Its coding history says <c>F=</c>, once for each time that the sound was coded; the last one is this file (EBU Recommendation R98).</param>
    /// <param name="ixml">What its iXML says.</param>
    /// <param name="bytesPerSecond">Of the format chunk: the rate times the bytes of a frame.</param>
    /// <param name="bytesPerFrame">Of the format chunk.</param>
    public static IEnumerable<RateWord> Of(BroadcastExtension? broadcast, IxmlWords ixml, uint bytesPerSecond, int bytesPerFrame)
    {
        if (bytesPerFrame > 0 && bytesPerSecond > 0 && bytesPerSecond % bytesPerFrame == 0 && SampleRate.IsPossible(bytesPerSecond / bytesPerFrame))
        {
            yield return new RateWord("the format's count of bytes a second", SampleRate.FromHz(bytesPerSecond / bytesPerFrame));
        }

        if (Coded(broadcast?.CodingHistory ?? string.Empty) is { } coded)
        {
            yield return new RateWord("its coding history", coded);
        }

        if (ixml.Rate is { } declared)
        {
            yield return new RateWord("its iXML", declared);
        }
    }

    private static SampleRate? Coded(string history) => history.Split('\n', '\r', ',').Select(p => p.Trim())
        .Where(p => p.StartsWith("F=", StringComparison.OrdinalIgnoreCase)).Select(p => Rate(p[2..])).LastOrDefault(r => r is not null);

    /// <summary>A rate in words: a whole number, a fraction or a decimal; null where it is none.</summary>
    public static SampleRate? Rate(string? text) =>
        Rational.TryParse(text?.Trim(), out var rate) && SampleRate.IsPossible(rate) && rate.Sign > 0 ? new SampleRate(rate) : null;
}
