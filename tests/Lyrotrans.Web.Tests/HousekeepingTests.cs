using Lyrotrans.Web.Jobs;

namespace Lyrotrans.Web.Tests;

public sealed class HousekeepingTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-leftovers-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private string File(string name, int days)
    {
        var path = Path.Combine(_folder, name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        System.IO.File.WriteAllText(path, name);
        System.IO.File.SetLastWriteTimeUtc(path, DateTime.UtcNow.AddDays(-days));
        Directory.SetLastWriteTimeUtc(Path.GetDirectoryName(path)!, DateTime.UtcNow.AddDays(-days));
        return path;
    }

    [Fact]
    public void What_killed_builds_left_goes_after_a_day_and_nothing_that_is_finished()
    {
        string[] left = [File("store/scratch/dead.package/000000", 2), File("store/scratch/dead.sound", 2), File("packages/b.json.part", 2)];
        string[] stays = [File("store/scratch/alive.package/000000", 0), File("store/scratch/alive.sound", 0), File("packages/b/0123", 2), File("packages/b.contents.json", 2), File("store/media/01/0123", 2)];
        Housekeeping.RemoveLeftovers(new Settings(string.Empty, _folder, false, null));
        Assert.All(left, path => Assert.False(System.IO.File.Exists(path), path));
        Assert.All(stays, path => Assert.True(System.IO.File.Exists(path), path));
        Assert.False(Directory.Exists(Path.Combine(_folder, "store/scratch/dead.package")));
    }
}
