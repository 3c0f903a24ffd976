using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Finds the file of a session's media.</summary>
public interface IMediaFiles
{
    /// <summary>Null where it is missing.</summary>
    IStoredFile? FileOf(Media media);

    /// <summary>A local folder for files that live only as long as the work.</summary>
    string Scratch { get; }
}
