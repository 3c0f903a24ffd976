namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>What a segment of a chain format is, whatever the format calls it.</summary>
internal enum SegmentKind
{
    Other,
    Sequence,
    Source,
    Silence,
    Transition,
    Gain,
    Pan,

    /// <summary>An operation that cannot be carried; its first sound goes without it.</summary>
    Operation,
    Selector,

    /// <summary>The same sound in several forms, of which the first is taken.</summary>
    Group,
    Scope,
    Reference,

    /// <summary>A segment of another edit rate.</summary>
    Conversion,
}
