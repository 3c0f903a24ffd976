using Lyrotrans.Core.Collections;

namespace Lyrotrans.Formats.Midi;

/// <summary>A track: its events in file order (ascending by tick), without the end-of-track event, whose tick is kept apart.</summary>
public sealed record SmfTrack(ValueArray<SmfEvent> Events, long EndTick);
