using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.Bento;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Formats.Omf;

/// <summary>An OMF file opened once: its compositions, and the sound that lies inside it.</summary>
public sealed class OmfDocument : IEditDocument
{
    private readonly OmfReader _reader;

    private OmfDocument(OmfFile file) => _reader = new OmfReader(file);

    /// <summary>Whether a stream ends with the label of its container.</summary>
    public static bool Is(Stream stream) => BentoFile.Is(stream);

    /// <param name="stream">Seekable; must outlive the document and what it opens.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">Not an OMF file, too damaged to open, or without a composition.</exception>
    public static OmfDocument Open(Stream stream, string name) => new(OmfFile.Open(stream, name));

    public IReadOnlyList<string> Compositions => _reader.Compositions;

    public EditComposition Read(string? composition = null) => _reader.Read(composition);

    public Stream? OpenEssence(string id) => _reader.Sounds.Open(id, id);
}
