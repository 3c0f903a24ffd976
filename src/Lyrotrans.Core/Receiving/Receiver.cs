using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Core.Receiving;

/// <summary>Who gets a session, and how it goes there.</summary>
/// <param name="Id">Unique in its transfer, and never given to another.</param>
/// <param name="Name">As people call the room; may be empty.</param>
/// <param name="Preparation">What was decided about the session for this room.</param>
public sealed record Receiver(string Id, string Name, Preparation Preparation)
{
    /// <summary>The sheet that was chosen for it, as JSON, as it was then; null where none was.</summary>
    public string? Sheet { get; init; }

    /// <summary>As it is called in words.</summary>
    public string Called => Name.Length > 0 ? Name : $"receiver {Id}";
}
