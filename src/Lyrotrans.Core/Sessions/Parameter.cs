namespace Lyrotrans.Core.Sessions;

/// <summary>An effect's setting, in the unit that its name states.</summary>
public readonly record struct Parameter(string Name, double Value);
