using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.MarkerList;

/// <summary>Codes of marker lists.</summary>
public static class MarkerListCodes
{
    /// <summary>No column is called text.</summary>
    public static readonly FindingCode NoTextColumn = new("markers.no-text-column");

    /// <summary>No column says where a marker lies.</summary>
    public static readonly FindingCode NoPlaceColumn = new("markers.no-place-column");

    /// <summary>A marker ends before it begins; it was left out.</summary>
    public static readonly FindingCode EndsBefore = new("markers.ends-before");

    /// <summary>A position cannot be read as what its column says; the marker was left out.</summary>
    public static readonly FindingCode NoPlace = new("markers.no-place");
}
