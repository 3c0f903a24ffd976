using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Rates;

/// <summary>A rate that a part of a sound file says, other than the field of its header that counts.</summary>
/// <param name="Says">What says it, such as <c>its recording history</c>.</param>
public readonly record struct RateWord(string Says, SampleRate Rate);
