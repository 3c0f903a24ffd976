using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Returning;

/// <summary>A sound file of either side.</summary>
/// <param name="Name">As people call it.</param>
/// <param name="File">Its bytes.</param>
public sealed record SoundFileOf(string Name, IStoredFile File);
