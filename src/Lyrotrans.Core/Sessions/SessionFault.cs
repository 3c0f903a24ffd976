namespace Lyrotrans.Core.Sessions;

/// <summary>A rule of the model that a session breaks, with the path of the place in its document.</summary>
public sealed record SessionFault(string Path, string Message);
