using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Storing;

/// <summary>Which media of a session a store has.</summary>
public static class HeldMedia
{
    /// <summary>Whether the sound of a medium is there. What a session says is missing is missing, though its hash may be known.</summary>
    public static bool Holds(this IMediaStore store, Media media) => media is { IsAbsent: false, Sha256: { } sha256 } && store.Has(sha256);
}
