using Lyrotrans.Core.Naming;

namespace Lyrotrans.Web.Incoming;

/// <summary>How much of the disk a room takes, and how much it may.</summary>
/// <param name="Used">Bytes of media, packages and files on their way in that are here.</param>
/// <param name="Coming">Bytes that were announced and have not arrived, and those that work under way was given.</param>
/// <param name="Most">Bytes that it may take; null where only the disk is the limit.</param>
public sealed record RoomUse(long Used, long Coming, long? Most)
{
    private const double Nearly = 0.9;

    /// <summary>Bytes that nothing stands on and nothing is on its way to.</summary>
    public long Left => Most is { } most ? Math.Max(0, most - Used - Coming) : long.MaxValue;

    /// <summary>The part that is taken, from 0 to 1; 0 where there is no limit.</summary>
    public double Fraction => Most is { } most ? Math.Min(1, (double)(Used + Coming) / Math.Max(1, most)) : 0;

    /// <summary>Whether somebody should be told before it is too late.</summary>
    public bool IsNearlyFull => Fraction >= Nearly;

    /// <summary>In words for whoever looks at the room.</summary>
    public string Words => Most is { } most
        ? $"{Digits.Bytes(Used)} of {Digits.Bytes(most)} used{(Coming > 0 ? $", {Digits.Bytes(Coming)} on the way" : "")}"
        : $"{Digits.Bytes(Used)} used";

    /// <summary>Why something of so many bytes does not fit, in words; null where it does.</summary>
    public string? Problem(string what, long bytes) => bytes <= Left ? null
        : $"{what} needs {Digits.Bytes(bytes)}, and the room has {Digits.Bytes(Left)} left of {Digits.Bytes(Most!.Value)}. Ask whoever looks after the server for more.";
}
