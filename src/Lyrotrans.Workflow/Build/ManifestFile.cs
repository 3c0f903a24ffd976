using Lyrotrans.Core.Delivering;

namespace Lyrotrans.Workflow.Build;

/// <summary>A file of a package as its manifest states it.</summary>
public sealed record ManifestFile(PlannedFile Plan, string Sha256, long Bytes);
