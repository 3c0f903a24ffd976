namespace Lyrotrans.Formats.Aaf;

/// <summary>A property of the published object model.</summary>
/// <param name="Pid">Null where each file gives its own.</param>
internal sealed record AafProperty(string Name, Guid Id, ushort? Pid, string Type, bool IsOptional, bool IsUnique);
