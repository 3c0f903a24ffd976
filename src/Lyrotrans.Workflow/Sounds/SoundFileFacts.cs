using System.Text.Json.Serialization;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>What a sound file's header says.</summary>
/// <param name="Container">Such as <c>WAVE</c> or <c>FLAC</c>.</param>
/// <param name="Rate">Samples a second, as a ratio in text.</param>
/// <param name="Frames">Length in sample frames.</param>
/// <param name="TimeReference">Samples since midnight, where it is stamped.</param>
/// <param name="Umid">The identifier in its broadcast extension, as lower-case hex of 32 bytes.</param>
public sealed record SoundFileFacts(
    string Container, SampleEncoding Encoding, int Channels, string Rate, long Frames, long? TimeReference, IReadOnlyList<string> Findings, string? Umid = null)
{
    [JsonIgnore]
    public SampleRate SampleRate => Rational.TryParse(Rate, out var perSecond)
        ? new SampleRate(perSecond)
        : throw new InvalidOperationException($"The rate \"{Rate}\" is not a ratio.");
}
