using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.OpenSession;

/// <summary>Codes of the documents of this program: session, preparation, receiver sheet, manifest, intake.</summary>
public static class DocumentCodes
{
    /// <summary>The document does not say that it is one of these.</summary>
    public static readonly FindingCode NotOne = new("document.not-one");

    /// <summary>The document has a newer version than this program knows.</summary>
    public static readonly FindingCode NewerVersion = new("document.newer-version");

    /// <summary>A property that must be there is missing.</summary>
    public static readonly FindingCode Missing = new("document.missing");

    /// <summary>A property or a value is not known there.</summary>
    public static readonly FindingCode Unknown = new("document.unknown");

    /// <summary>A value is of another kind than is expected there: text, number, list, object.</summary>
    public static readonly FindingCode WrongKind = new("document.wrong-kind");

    /// <summary>A value is of the right kind, and not possible there.</summary>
    public static readonly FindingCode BadValue = new("document.bad-value");

    /// <summary>The document as a whole breaks a rule of the session model.</summary>
    public static readonly FindingCode BrokenRule = new("document.broken-rule");
}
