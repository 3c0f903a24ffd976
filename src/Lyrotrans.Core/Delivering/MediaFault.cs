namespace Lyrotrans.Core.Delivering;

/// <summary>What is wrong with a medium that goes.</summary>
/// <param name="Kind">That it is not there, or contradicts the session.</param>
/// <param name="Words">In words.</param>
public sealed record MediaFault(SoundGapKind Kind, string Words)
{
    /// <summary>It is not there.</summary>
    public static MediaFault Missing { get; } = new(SoundGapKind.Missing, "it is not there; its clips are silent");
}
