using Lyrotrans.Core.Storing;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Web.Listening;

/// <summary>How the sound files of packages look, made when somebody first looks and kept from then on.</summary>
public sealed class Outlines(PackageStore packages)
{
    /// <summary>The outline of a sound file (<see cref="SoundOutline"/>).</summary>
    /// <param name="package">That has it.</param>
    /// <param name="file">The file.</param>
    /// <param name="seat">Takes a seat for making it; null where none is free.</param>
    /// <param name="stop">Stops the making.</param>
    /// <returns>Null where it is not there and nobody may make it now.</returns>
    public async Task<IStoredFile?> OfAsync(KeptPackage package, KeptFile file, Func<IDisposable?> seat, CancellationToken stop)
    {
        if (packages.Outline(package.Build, file.Sha256) is { } kept)
        {
            return kept;
        }

        using var taken = seat();
        if (taken is null)
        {
            return null;
        }

        packages.KeepOutline(package.Build, file.Sha256, await Task.Run(() => Made(file, stop), stop));
        return packages.Outline(package.Build, file.Sha256);
    }

    private static byte[] Made(KeptFile file, CancellationToken stop)
    {
        using var sound = SoundFile.Open(file.File, file.Path);
        return SoundOutline.Of(sound.Source, stop);
    }
}
