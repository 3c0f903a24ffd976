using Lyrotrans.Core.Storing;

namespace Lyrotrans.Web.Keeping;

/// <summary>A file that is looked for only when somebody reads it: a list of a thousand asks nothing of the disk.</summary>
/// <param name="length">In bytes.</param>
/// <param name="find">Finds it.</param>
internal sealed class LaterFile(long length, Func<IStoredFile> find) : IStoredFile
{
    /// <inheritdoc/>
    public long Length => length;

    /// <inheritdoc/>
    public Stream Open() => find().Open();

    /// <inheritdoc/>
    public LocalFile Local() => find().Local();
}
