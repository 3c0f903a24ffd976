namespace Lyrotrans.Workflow.Intake;

/// <summary>A file that came with others and holds nothing that can be brought in; its bytes are not kept.</summary>
/// <param name="Name">With the folders it came in, parted by <c>/</c>.</param>
/// <param name="Bytes">Its size.</param>
public sealed record LeftOutFile(string Name, long Bytes)
{
    private const long SmallestDocument = 1024;

    /// <summary>Whether it may be a document that says a session: not small, and in no folder below the one that was dropped.</summary>
    public bool MayBeDocument => Bytes >= SmallestDocument && Name.Count(c => c == '/') <= 1;
}
