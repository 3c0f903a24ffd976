using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>A sound file of a package, opened where it lies, or as a copy where it has to be; the copy is gone when this is closed.</summary>
public sealed class FoundSound : IDisposable
{
    private readonly string? _scratch;

    private FoundSound(SoundFile sound, string? scratch)
    {
        Sound = sound;
        _scratch = scratch;
    }

    /// <summary>The open file.</summary>
    public SoundFile Sound { get; }

    /// <summary>Whether it has the channels, length and rate that were planned; only then may it be read beside what was meant.</summary>
    public bool Is(PlannedFile file) =>
        Sound.Source.Channels == file.Channels && Sound.Source.Length == file.Frames && Sound.Source.Rate.HeaderHz == file.Made.Rate.HeaderHz;

    /// <exception cref="BadInputException">It is not there or cannot be read.</exception>
    public static FoundSound Open(PackageReader package, PlannedFile file, string folder, CancellationToken stop)
    {
        if (package.OpenStored(file.Path) is { } stream)
        {
            if (SoundFile.TryOpen(stream, file.Path) is { } sound)
            {
                return new FoundSound(sound, null);
            }

            stream.Dispose();
        }

        Directory.CreateDirectory(folder);
        var scratch = Path.Combine(folder, $"{Guid.NewGuid():N}.proof");
        try
        {
            package.CopyTo(file.Path, scratch, stop);
            return new FoundSound(SoundFile.Open(new DiskFile(scratch), file.Path), scratch);
        }
        catch
        {
            File.Delete(scratch);
            throw;
        }
    }

    public void Dispose()
    {
        Sound.Dispose();
        if (_scratch is not null)
        {
            File.Delete(_scratch);
        }
    }
}
