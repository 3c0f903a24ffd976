using Lyrotrans.Core.Findings;

namespace Lyrotrans.Web.Sheets;

/// <summary>Codes of sheets that were not taken.</summary>
public static class SheetCodes
{
    /// <summary>A receiver sheet is larger than any is.</summary>
    public static readonly FindingCode TooLarge = new("sheet.too-large");

    /// <summary>A receiver sheet without a name cannot be kept.</summary>
    public static readonly FindingCode NoName = new("sheet.no-name");

    /// <summary>Somebody else kept a receiver sheet of the same name at the same moment.</summary>
    public static readonly FindingCode KeptMeanwhile = new("sheet.kept-meanwhile");

    /// <summary>More files were given to learn a receiver sheet from than are looked at.</summary>
    public static readonly FindingCode TooManyFiles = new("sheet.too-many-files");

    /// <summary>A room keeps no more receiver sheets.</summary>
    public static readonly FindingCode TooMany = new("sheet.too-many");
}
