namespace Lyrotrans.Core.Sessions;

/// <summary>Which source said what: a source file and what was taken from it.</summary>
public sealed record Provenance(string Source, string Took);
