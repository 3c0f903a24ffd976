using System.Text.Json.Serialization;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A file that came with others and holds nothing that can be brought in; its bytes are not kept.</summary>
/// <param name="Name">With the folders it came in, parted by <c>/</c>.</param>
/// <param name="Bytes">Its size.</param>
public sealed record LeftOutFile(string Name, long Bytes)
{
    private const long SmallestDocument = 1024;

    // To be read or looked at by people.
    private static readonly string[] s_forPeople = [".txt", ".md", ".pdf", ".rtf", ".doc", ".docx", ".odt", ".html", ".htm", ".jpg", ".jpeg", ".png", ".gif", ".csv"];

    /// <summary>Whether it may be a document that says a session: not small, in no folder below the one that was dropped, and not called like a text or a picture.</summary>
    [JsonIgnore]
    public bool MayBeDocument => Bytes >= SmallestDocument && Name.Count(c => c == '/') <= 1 && !s_forPeople.Contains(Path.GetExtension(Name).ToLowerInvariant());
}
