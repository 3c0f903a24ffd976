using Lyrotrans.Core.Errors;

namespace Lyrotrans.Formats.Sessions;

/// <summary>A format whose files say a session. Each stands in a folder of its own and in one line of the registry; what reads sessions asks the registry and knows no format by name.</summary>
public interface ISessionFormat
{
    /// <summary>In documents and for people, such as in "an … file".</summary>
    string Id { get; }

    /// <summary>Of its files, with the dot, in lower case.</summary>
    string Extension { get; }

    /// <summary>What documents of before call what was recognised as this.</summary>
    IReadOnlyList<string> FormerIds { get; }

    /// <summary>Whether it says everything that a session has, so that it leads where several are brought in.</summary>
    bool IsWhole => false;

    /// <param name="head">The first bytes of a file, up to 512.</param>
    /// <param name="stream">The file, for formats that are known by their end; its position is the caller's.</param>
    bool Is(ReadOnlySpan<byte> head, Stream stream);

    /// <param name="stream">Seekable; must outlive the document.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">It cannot be opened.</exception>
    ISessionDocument Open(Stream stream, string name);
}
