namespace Lyrotrans.Web.Desks;

/// <summary>A stage in the line on the left: its state in words, and whether something waits there.</summary>
public sealed record Stage(string Name, string Path, string State, bool Waits, bool Done);
