using Lyrotrans.Files;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Build;

/// <summary>Builds a package where people or a store take it from, if there is room for it.</summary>
public static class PackageFile
{
    private const long Spare = 64L << 20;

    /// <summary>Builds a zip that is whole or not there. Refuses what cannot be made. Writes to a temporary name beside it, syncs, then renames.</summary>
    /// <exception cref="Core.Errors.BadInputException">The plan cannot be built as it is, or media cannot be read.</exception>
    /// <exception cref="IOException">The disk has too little room, is full, or cannot be written.</exception>
    public static Manifest Build(
        DeliveryPlan plan, IMediaFiles files, string path, PackageMaker maker, Action<WorkProgress> report, CancellationToken stop)
    {
        WithRoom(plan, Path.GetDirectoryName(Path.GetFullPath(path))!);
        Manifest? manifest = null;
        WholeFile.Write(path, output => manifest = PackageBuilder.Build(plan, files, output, maker, report, stop));
        return manifest!;
    }

    /// <summary>Builds the files of a package into an empty folder, and brings them to their disk. Where it fails, whoever made the folder throws it away.</summary>
    /// <exception cref="Core.Errors.BadInputException">The plan cannot be built as it is, or media cannot be read.</exception>
    /// <exception cref="IOException">The disk has too little room, is full, or cannot be written.</exception>
    public static (Manifest Manifest, FolderPackage Package) BuildInto(
        DeliveryPlan plan, IMediaFiles files, string folder, PackageMaker maker, Action<WorkProgress> report, CancellationToken stop)
    {
        WithRoom(plan, folder);
        var package = new FolderPackage(folder, maker.Made);
        return (PackageBuilder.Build(plan, files, package, maker, report, stop), package);
    }

    private static void WithRoom(DeliveryPlan plan, string folder)
    {
        Directory.CreateDirectory(folder);
        if (RoomProblem(plan, folder) is { } little)
        {
            throw new IOException(little);
        }
    }

    /// <summary>Why there is too little room for a package in a folder, in words; null where there is enough, or the system does not say.</summary>
    public static string? RoomProblem(DeliveryPlan plan, string folder) => DiskSpace.FreeIn(folder) is { } free && free < Needed(plan) + Spare
        ? $"The package needs about {Digits.Bytes(Needed(plan))}, and {Digits.Bytes(free)} are free where it goes. Make room and build again."
        : null;

    // A picture is made beside the package before it goes into it.
    private static long Needed(DeliveryPlan plan) => plan.Bytes + (plan.Picture?.Bytes ?? 0);
}
