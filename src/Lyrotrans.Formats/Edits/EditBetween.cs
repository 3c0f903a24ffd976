namespace Lyrotrans.Formats.Edits;

/// <summary>How a curve of a chain format gets from point to point.</summary>
public enum EditBetween
{
    /// <summary>Straight in the value itself, which for a gain is a multiplier.</summary>
    Straight,

    /// <summary>Straight in dB.</summary>
    StraightInDb,

    /// <summary>Holds until the next point.</summary>
    Hold,
}
