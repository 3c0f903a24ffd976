using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Binary;

/// <summary>Codes of JSON documents of any kind.</summary>
public static class JsonCodes
{
    /// <summary>The document is not UTF-8, as JSON must be.</summary>
    public static readonly FindingCode NotUtf8 = new("json.not-utf8");

    /// <summary>The document is not whole JSON.</summary>
    public static readonly FindingCode Broken = new("json.broken");

    /// <summary>The document is nested deeper than anything of its kind.</summary>
    public static readonly FindingCode TooDeep = new("json.too-deep");
}
