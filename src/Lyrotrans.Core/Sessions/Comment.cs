namespace Lyrotrans.Core.Sessions;

/// <summary>Words about the session that a source brought under a name of its own; they are kept and never understood.</summary>
public sealed record Comment(string Name, string Text);
