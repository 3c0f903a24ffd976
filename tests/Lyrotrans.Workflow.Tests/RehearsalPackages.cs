using System.IO.Compression;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>The demo as two packages: with all tracks as clips, and with files from the start.</summary>
public sealed class RehearsalPackages : IDisposable
{
    private readonly DemoSession _demo;
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-rehearsal-packages-").FullName;

    public RehearsalPackages(DemoSession demo)
    {
        _demo = demo;
        Clips = Made("clips", p => p with { Clips = Choose.Aaf with { MonoOnly = false }, Tracks = [.. p.Tracks.Select(t => t.Treatment == Treatment.PrintDry ? t with { Treatment = Treatment.KeepClips } : t)] });
        Files = Made("files", p => p);
    }

    public (DeliveryPlan Plan, IReadOnlyList<KeptFile> Files) Clips { get; }

    public (DeliveryPlan Plan, IReadOnlyList<KeptFile> Files) Files { get; }

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private (DeliveryPlan Plan, IReadOnlyList<KeptFile> Files) Made(string name, Func<Preparation, Preparation> change)
    {
        var (plan, package) = (_demo.Plan(change), Path.Combine(_folder, name));
        ZipFile.ExtractToDirectory(_demo.Build(plan), package);
        return (plan, [.. Directory.EnumerateFiles(package, "*", SearchOption.AllDirectories).Select(f => new KeptFile(Path.GetRelativePath(package, f).Replace('\\', '/'), new FileInfo(f).Length, string.Empty, new DiskFile(f)))]);
    }
}
