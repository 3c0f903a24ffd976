namespace Lyrotrans.Core.Findings;

/// <summary>What a reader met and whoever brings the file in should know. It is compared and dropped by its code, never by its text.</summary>
/// <param name="Code">Which kind of finding it is.</param>
/// <param name="Place">Where: a byte, a line, a path in a document, or the name of a track, clip or medium; empty for the file as a whole.</param>
/// <param name="Text">A whole sentence that stands for itself, place and numbers with it.</param>
public sealed record Finding(FindingCode Code, string Place, string Text)
{
    public override string ToString() => Text;
}
