using Lyrotrans.Audio.Analysis;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Levels of the sound files of a package.</summary>
public static class PackageLevels
{
    /// <summary>Of every sound file of a package that is there and has the form that was planned, by its path, measured now.</summary>
    public static IReadOnlyDictionary<string, SoundLevels> Measure(IStoredFile zip, DeliveryPlan plan, string scratch, CancellationToken stop)
    {
        var files = plan.Files.Where(f => f.IsSound).ToList();
        var levels = AtOnce.Select(
            files,
            f =>
            {
                using var package = PackageReader.Open(zip, plan.Root);
                using var found = package.Has(f.Path) ? FoundSound.Open(package, f, scratch, stop) : null;
                return found?.Is(f) == true ? SoundAnalysis.Measure(found.Sound.Source, stop).Levels : null;
            },
            stop);
        return files.Zip(levels).Where(p => p.Second is not null).ToDictionary(p => p.First.Path, p => p.Second!);
    }
}
