namespace Lyrotrans.Web.Jobs;

/// <summary>Removes what a killed process left half done; finished files are never touched.</summary>
public static class Housekeeping
{
    // Long enough that no other process on the same folders can still be at work on it.
    private static readonly TimeSpan s_old = TimeSpan.FromDays(1);

    public static void RemoveLeftovers(Settings settings)
    {
        var scratch = Path.Combine(settings.StoreFolder, "scratch");
        Directory.CreateDirectory(scratch);
        var folders = new[] { settings.StoreFolder, settings.PackageFolder }.Where(Directory.Exists);
        var leftovers = folders.SelectMany(f => Directory.EnumerateFiles(f, "*.part", SearchOption.AllDirectories)).Concat(Directory.EnumerateFiles(scratch));
        foreach (var package in Directory.EnumerateDirectories(scratch).Where(f => DateTime.UtcNow - Directory.GetLastWriteTimeUtc(f) > s_old))
        {
            Directory.Delete(package, recursive: true);
        }

        foreach (var file in leftovers.Where(f => DateTime.UtcNow - File.GetLastWriteTimeUtc(f) > s_old))
        {
            File.Delete(file);
        }
    }
}
