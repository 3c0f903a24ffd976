namespace Lyrotrans.Core.Storing;

/// <summary>A file that does not change, wherever it lies. Can be asked by several threads at once.</summary>
public interface IStoredFile
{
    /// <summary>In bytes.</summary>
    long Length { get; }

    /// <summary>Its bytes, from any place on: the stream can seek, and reads no more than is asked for.</summary>
    /// <exception cref="IOException">It is gone, or cannot be reached.</exception>
    Stream Open();

    /// <summary>The file on a local disk, for libraries that open files by path: itself where it lies there, else a copy.</summary>
    /// <exception cref="IOException">It is gone, cannot be reached, or there is no room for the copy.</exception>
    LocalFile Local();
}
