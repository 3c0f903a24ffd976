namespace Lyrotrans.Core.Sessions;

/// <summary>What kinds of tracks have in common, and their words.</summary>
public static class TrackKinds
{
    /// <summary>Whether it has sound or notes of its own that go through the session: what is neither a way for others nor made elsewhere.</summary>
    public static bool IsSource(this TrackKind kind) => kind is TrackKind.Audio or TrackKind.Notes;

    /// <summary>Whether it is sound that was made elsewhere and stands for what would be made here.</summary>
    public static bool HasRole(this TrackKind kind) => kind is TrackKind.Print or TrackKind.Stem or TrackKind.GuideMix or TrackKind.Click;

    /// <summary>As it is said everywhere.</summary>
    public static string Words(this TrackKind kind) => kind == TrackKind.GuideMix ? "guide mix" : kind.ToString().ToLowerInvariant();
}
