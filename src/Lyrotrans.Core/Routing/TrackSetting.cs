namespace Lyrotrans.Core.Routing;

/// <summary>One setting of a track, as a person sets it up elsewhere.</summary>
/// <param name="Number">Of the track in the session's order, from 1.</param>
/// <param name="Track">Its name.</param>
/// <param name="What">What is set: fader, rides, pan, pan rides, feeds, polarity, send, effect.</param>
/// <param name="Of">The return that a send goes to, or the effect with its number; empty for others.</param>
/// <param name="Value">With its unit.</param>
/// <param name="IsOff">Whether it was switched off and does nothing.</param>
public sealed record TrackSetting(int Number, string Track, string What, string Of, string Value, bool IsOff = false);
