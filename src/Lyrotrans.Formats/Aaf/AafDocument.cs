using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Formats.Aaf;

/// <summary>An AAF file opened once: its compositions, and the sound that lies inside it.</summary>
public sealed class AafDocument : IEditDocument
{
    private readonly AafFile _file;

    private AafDocument(AafFile file) => _file = file;

    /// <param name="stream">Seekable; must outlive the document and what it opens.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">Not an AAF file, or too damaged to open.</exception>
    public static AafDocument Open(Stream stream, string name) => new(AafFile.Open(stream, name));

    /// <inheritdoc/>
    public IReadOnlyDictionary<string, string> OwnOptions => new Dictionary<string, string> { ["sectors"] = _file.Container.SectorBytes.ToString(System.Globalization.CultureInfo.InvariantCulture) };

    /// <summary>The names of its compositions that no other refers to, the top one first.</summary>
    public IReadOnlyList<string> Compositions => new AafReader(_file).Compositions;

    /// <param name="composition">The name of the one to take; without it the top one.</param>
    /// <exception cref="BadInputException">It is damaged beyond reading, or has no composition.</exception>
    public EditComposition Read(string? composition = null) => new AafReader(_file).Read(composition);

    /// <summary>The embedded essence of a medium, as it lies in the file; null where it is not embedded.</summary>
    /// <param name="id">The medium's identifier.</param>
    public Stream? OpenEssence(string id) => _file.Essence.TryGetValue(id, out var essence) ? essence.DataStream(AafPid.EssenceStream) : null;
}
