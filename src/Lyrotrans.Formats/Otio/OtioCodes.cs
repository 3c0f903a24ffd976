using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Otio;

/// <summary>Codes of OTIO documents alone.</summary>
public static class OtioCodes
{
    /// <summary>The document has no timeline, or a timeline without tracks.</summary>
    public static readonly FindingCode NoTimeline = new("otio.no-timeline");

    /// <summary>The metadata with what OTIO has no place for cannot be read; the timeline stands for itself.</summary>
    public static readonly FindingCode OwnUnreadable = new("otio.own-unreadable");

    /// <summary>A clip says no length; it was left out.</summary>
    public static readonly FindingCode NoLength = new("otio.no-length");

    /// <summary>A medium is too short for its transition, which begins later.</summary>
    public static readonly FindingCode ShortTransition = new("otio.short-transition");

    /// <summary>Sound is made by a generator, which cannot be carried; it is silent.</summary>
    public static readonly FindingCode Generator = new("otio.generator");
}
