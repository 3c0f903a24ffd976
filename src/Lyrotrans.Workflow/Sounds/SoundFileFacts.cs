using System.Text.Json.Serialization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>What a sound file's header says.</summary>
/// <param name="Container">Such as <c>WAVE</c> or <c>FLAC</c>.</param>
/// <param name="Rate">Samples a second, as a ratio in text.</param>
/// <param name="Frames">Length in sample frames.</param>
/// <param name="TimeReference">Samples since midnight, where it is stamped.</param>
/// <param name="Umid">The identifier in its broadcast extension, as lower-case hex of 32 bytes.</param>
/// <param name="OtherRates">What else in the file says another rate, and the rate as a ratio in text; null where nothing does.</param>
public sealed record SoundFileFacts(
    string Container, SampleEncoding Encoding, int Channels, string Rate, long Frames, long? TimeReference, IReadOnlyList<Finding> Findings, string? Umid = null,
    IReadOnlyDictionary<string, string>? OtherRates = null)
{
    /// <summary>What its channels are called, empty where one has no name; null where no channel has one.</summary>
    public IReadOnlyList<string>? ChannelNames { get; init; }

    /// <summary>Places in it that have a name; null where there are none.</summary>
    public IReadOnlyList<SoundMark>? Marks { get; init; }

    /// <summary>The rate as a value.</summary>
    [JsonIgnore]
    public SampleRate SampleRate => RateOf(Rate);

    /// <summary>What other fields of the header say of the rate.</summary>
    [JsonIgnore]
    public ValueArray<RateWord> RateWords => (OtherRates ?? new Dictionary<string, string>()).Select(r => new RateWord(r.Key, RateOf(r.Value))).ToValueArray();

    /// <summary>A rate kept as text.</summary>
    public static SampleRate RateOf(string ratio) => Rational.TryParse(ratio, out var perSecond)
        ? new SampleRate(perSecond)
        : throw new InvalidOperationException($"The rate \"{ratio}\" is not a ratio.");
}
