using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Recognition;

/// <summary>Opens a file that says a session, by its content.</summary>
public static class SessionDocuments
{
    /// <param name="stream">Seekable; must outlive the document.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">It says no session, or cannot be opened.</exception>
    public static ISessionDocument Open(Stream stream, string name) => ContentSniffer.FormatOf(stream) is { } format
        ? format.Open(stream, name)
        : throw new BadInputException(FileCodes.UnknownContent, name, 0, $"This says no session: it is neither an open session document nor an {SessionFormats.Words("or")} file.", "Check what it is.");
}
