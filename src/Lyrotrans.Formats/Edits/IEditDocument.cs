using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Edits;

/// <summary>A document that says its sessions as compositions of clips.</summary>
public interface IEditDocument : ISessionDocument
{
    /// <summary>The items of each track of the first composition, as the document has them; null where they are its clips.</summary>
    IReadOnlyList<(string Name, IReadOnlyList<EditItem> Items)>? Outline => null;

    /// <summary>What the file has of the choices that only its format lets make (<see cref="Core.ClipFormats.ClipFormat.Options"/>), by option and value.</summary>
    IReadOnlyDictionary<string, string> OwnOptions => new Dictionary<string, string>();

    /// <param name="composition">The name of the one to take; without it the first.</param>
    /// <exception cref="BadInputException">It is damaged beyond reading, or has no composition.</exception>
    EditComposition Read(string? composition = null);

    ReadSession ISessionDocument.ReadSession(string? composition)
    {
        var read = Read(composition);
        var (session, findings) = EditImport.Make(read);
        return new ReadSession(session, findings, read.Media, read.Comments, read.KnowsChannels);
    }
}
