using Lyrotrans.Audio.Placing;

namespace Lyrotrans.Workflow.Placing;

/// <summary>Where a file whose place was lost lies in the session.</summary>
/// <param name="Item">Its identifier in the intake.</param>
/// <param name="Name">As people call it.</param>
/// <param name="Place">In session samples; null where it was not found.</param>
public sealed record FoundFile(string Item, string Name, SignalPlace? Place);
