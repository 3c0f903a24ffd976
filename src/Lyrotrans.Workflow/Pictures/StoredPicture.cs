using Lyrotrans.Audio.Pictures;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Workflow.Containers;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Pictures;

/// <summary>A picture that lies in a store or a folder, opened where ffmpeg can read it.</summary>
public sealed class StoredPicture : IDisposable
{
    private readonly LocalFile _local;

    private StoredPicture(LocalFile local, PictureSource source) => (_local, Source) = (local, source);

    /// <summary>What is read of it.</summary>
    public PictureSource Source { get; }

    /// <summary>The file of a picture; null where it is not there.</summary>
    public static IStoredFile? Find(PictureReference picture, IMediaFiles files) =>
        files.FileOf(new Media { Id = "picture", FileName = picture.FileName, Place = MediaPlace.Beside, Sha256 = picture.Sha256 });

    /// <param name="file">Where it lies.</param>
    /// <param name="name">As people call it.</param>
    /// <exception cref="BadInputException">It cannot be told what is in it, or it holds no picture.</exception>
    public static StoredPicture Open(IStoredFile file, string name)
    {
        var format = ContainerFile.FormatOf(file);
        var local = file.Local();
        try
        {
            return new StoredPicture(local, PictureSource.Open(local.Path, name, format));
        }
        catch
        {
            local.Dispose();
            throw;
        }
    }

    public void Dispose() => _local.Dispose();
}
