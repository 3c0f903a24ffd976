using Lyrotrans.Storage.Store;

namespace Lyrotrans.Storage.Tests;

public sealed class PackageStoreTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory().FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void A_package_is_never_there_without_its_proof()
    {
        var packages = new PackageStore(new MemoryObjects(_folder));
        var build = Guid.NewGuid();
        Assert.Throws<FileNotFoundException>(() => packages.Keep(build, Path.Combine(_folder, "gone.zip"), [1], [2]));
        Assert.Null(packages.Package(build));
        var zip = Path.Combine(_folder, "made.zip");
        File.WriteAllBytes(zip, [1, 2, 3]);
        packages.Keep(build, zip, [1], [2, 2]);
        Assert.Equal((3, 1, 2), (packages.Package(build)!.Length, packages.Proof(build)!.Length, packages.Levels(build)!.Length));
        Assert.Null(packages.Package(Guid.NewGuid()));
        packages.KeepLevels(build, [9]);
        Assert.Equal(1, packages.Levels(build)!.Length);
        packages.Remove(build);
        Assert.Equal([null, null, null], new[] { packages.Package(build), packages.Proof(build), packages.Levels(build) });
    }
}
