using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clicking;

/// <summary>One click: its session sample, its beat, and how strong it is.</summary>
public readonly record struct ClickBeat(long Sample, Beat Beat, ClickStrength Strength);
