using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A source that says how music lies over time, beside others that may say otherwise.</summary>
/// <param name="Item">Its intake item.</param>
/// <param name="Start">The session sample that its own start timecode means; null where it says none.</param>
public sealed record MapSource(string Item, string Name, MusicMap Map, ValueArray<Marker> Markers, long? Start = null);
