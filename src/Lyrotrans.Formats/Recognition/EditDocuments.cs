using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.Aaf;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Omf;
using Lyrotrans.Formats.Otio;

namespace Lyrotrans.Formats.Recognition;

/// <summary>The formats that say a session as compositions of clips.</summary>
public static class EditDocuments
{
    public static bool Is(ContentKind kind) => kind is ContentKind.CompoundFile or ContentKind.Omf or ContentKind.Otio;

    /// <param name="kind">What was recognised.</param>
    /// <param name="stream">Seekable; must outlive the document.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">It cannot be opened.</exception>
    public static IEditDocument Open(ContentKind kind, Stream stream, string name) => kind switch
    {
        ContentKind.Otio => OtioDocument.Open(stream, name),
        ContentKind.Omf => OmfDocument.Open(stream, name),
        _ => AafDocument.Open(stream, name),
    };

    /// <summary>The same by its content.</summary>
    public static IEditDocument Open(Stream stream, string name) => Open(ContentSniffer.Recognise(stream), stream, name);
}
