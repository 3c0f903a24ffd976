namespace Lyrotrans.Core.Sessions;

/// <summary>Where a media file's bytes are.</summary>
public enum MediaPlace
{
    /// <summary>In the media store, or beside the document by its file name.</summary>
    Beside,

    /// <summary>Inside the file that described the session.</summary>
    Embedded,

    /// <summary>Referred to and not found.</summary>
    Missing,

    /// <summary>Not in the package that the session came in, and nothing of it sounds by it: what plays it came printed.</summary>
    Unsent,
}
