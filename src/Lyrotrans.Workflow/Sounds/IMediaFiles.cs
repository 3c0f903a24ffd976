using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Finds the file of a session's media.</summary>
public interface IMediaFiles
{
    /// <summary>Its path on disk, or null where it is missing.</summary>
    string? PathOf(Media media);

    /// <summary>A folder for files that live only as long as the work.</summary>
    string Scratch { get; }
}
