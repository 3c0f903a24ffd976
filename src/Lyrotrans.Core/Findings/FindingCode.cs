namespace Lyrotrans.Core.Findings;

/// <summary>
/// The name of one kind of finding or refusal, such as <c>sound.cut-short</c>: an area and what is wrong, in lower case. It never changes, so that programs
/// and people can rely on it while its text is said better. Codes are static fields of classes called <c>…Codes</c>, each in the folder of what finds it;
/// <c>docs/codes.md</c> lists them all, with the summary of each field.
/// </summary>
public sealed record FindingCode(string Id)
{
    public override string ToString() => Id;
}
