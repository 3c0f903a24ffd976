namespace Lyrotrans.Core.Delivering;

/// <summary>What a file of a package is.</summary>
public enum PlannedKind
{
    FromZero,
    Midi,
    SessionDocument,
    SessionSheet,
    Manifest,
    Checksums,
}
