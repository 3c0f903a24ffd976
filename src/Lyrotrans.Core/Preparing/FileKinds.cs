using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>Which kind of file a track becomes.</summary>
public static class FileKinds
{
    /// <summary>The kind of a track's own file from zero.</summary>
    public static FileKind Of(Track track) => track.Kind is TrackKind.Bus or TrackKind.Return ? FileKind.Returns : FileKind.Tracks;
}
