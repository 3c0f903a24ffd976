using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Delivering;

/// <summary>Something that goes, and goes without the sound that it should have. Nobody is told that it arrived, unless it was accepted by its name.</summary>
/// <param name="Kind">Why.</param>
/// <param name="Of">The medium's file name, or the effect or notes and their track.</param>
/// <param name="Why">In words; for a contradiction what is said and what is found.</param>
/// <param name="Objects">What lacks it: clips with their tracks, or the track.</param>
/// <param name="IsAccepted">Whether its name is among those that the preparation accepts.</param>
public sealed record SoundGap(SoundGapKind Kind, string Of, string Why, ValueArray<string> Objects, bool IsAccepted)
{
    /// <summary>What it is accepted by.</summary>
    public string Name => NameOf(Kind, Of);

    /// <summary>What a gap is accepted by.</summary>
    public static string NameOf(SoundGapKind kind, string of) => kind switch
    {
        SoundGapKind.Missing => $"missing {of}",
        SoundGapKind.Contradicted => $"contradicted {of}",
        SoundGapKind.Effect => $"effect {of}",
        _ => $"instrument {of}",
    };
}
