namespace Lyrotrans.Workflow.Intake;

/// <summary>A file that was sent and waits to be read.</summary>
/// <param name="Name">As people call it, with the folders that it came in.</param>
/// <param name="Path">Where it lies until it is taken into the store.</param>
/// <param name="Sha256">Where it was taken already, the hash that it has there.</param>
public sealed record ArrivedFile(string Name, string Path, string? Sha256);
