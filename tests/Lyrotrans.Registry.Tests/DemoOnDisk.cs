using Lyrotrans.Demo;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Registry.Tests;

/// <summary>A short demo session on disk, made once for all tests.</summary>
public sealed class DemoOnDisk : IDisposable
{
    public static PackageMaker Maker { get; } = new(new(2026, 3, 21, 10, 0, 0, TimeSpan.Zero), SigningKey.New());

    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-demo-").FullName;

    public DemoOnDisk()
    {
        DemoFiles.Write(_folder, 0.1);
        Loaded = SessionLoader.Load(Path.Combine(_folder, "session"), Path.Combine(_folder, "scratch"));
    }

    public LoadedSession Loaded { get; }

    public void Dispose() => Directory.Delete(_folder, recursive: true);
}
