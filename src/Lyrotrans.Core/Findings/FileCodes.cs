namespace Lyrotrans.Core.Findings;

/// <summary>Codes of what any file can have wrong.</summary>
public static class FileCodes
{
    /// <summary>There is no file or folder at this path.</summary>
    public static readonly FindingCode Missing = new("file.missing");

    /// <summary>The file has 0 bytes.</summary>
    public static readonly FindingCode Empty = new("file.empty");

    /// <summary>The file ends inside something that it began.</summary>
    public static readonly FindingCode CutShort = new("file.cut-short");

    /// <summary>The file, or a part of it, is larger than any of its kind.</summary>
    public static readonly FindingCode TooLarge = new("file.too-large");

    /// <summary>The content is nothing that can be read here.</summary>
    public static readonly FindingCode UnknownContent = new("file.unknown-content");

    /// <summary>The content is not what the name of the file says.</summary>
    public static readonly FindingCode WrongName = new("file.wrong-name");

    /// <summary>The file has more findings than are listed.</summary>
    public static readonly FindingCode MoreFindings = new("file.more-findings");
}
