namespace Lyrotrans.Workflow.Returning;

/// <summary>A sent track that is in a file that came back.</summary>
/// <param name="Name">Of the track.</param>
/// <param name="GainDb">Its level in the file less that in which it was sent.</param>
public sealed record CameBackPart(string Name, double GainDb);
