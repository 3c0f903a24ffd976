using Lyrotrans.Core.Storing;
using Lyrotrans.Storage.Store;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Web.Tests;

public sealed class PackageStoreTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory().FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private FolderPackage Made(params byte[][] files)
    {
        var package = new FolderPackage(Directory.CreateDirectory(Path.Combine(_folder, Guid.NewGuid().ToString("N"))).FullName, DateTimeOffset.UnixEpoch);
        foreach (var (bytes, i) in files.Select((f, i) => (f, i)))
        {
            using var entry = package.Reserve($"root/{i}.bin", bytes.Length);
            entry.Write(bytes);
            entry.Finish();
        }

        package.Finish();
        return package;
    }

    private static byte[] Bytes(IStoredFile file)
    {
        using var stream = file.Open();
        using var bytes = new MemoryStream();
        stream.CopyTo(bytes);
        return bytes.ToArray();
    }

    private (PackageStore Store, IObjectStore Objects) Store(bool onDisk)
    {
        IObjectStore objects = onDisk ? new FolderObjects(Path.Combine(_folder, "objects")) : new MemoryObjects(_folder);
        return (new PackageStore(objects, new FileStore(objects, _folder)), objects);
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void A_package_lies_as_its_files_each_once_and_nothing_of_it_is_left(bool onDisk)
    {
        var (packages, objects) = Store(onDisk);
        var build = Guid.NewGuid();
        var package = Made([1, 2, 3], [4], [1, 2, 3]);
        var zip = Bytes(package.Zip(_folder));
        packages.Keep(build, package, [1], [2, 2]);
        Assert.Equal(zip, Bytes(packages.Package(build)!));
        Assert.Equal((1, 2), (packages.Proof(build)!.Length, packages.Levels(build)!.Length));
        Assert.Equal(2, objects.Names($"packages/{build:N}", string.Empty).Count());
        Assert.Equal(3, objects.Names("packages", string.Empty).Count(n => n.Split('/').Length == 2));
        Assert.Null(packages.Package(Guid.NewGuid()));
        packages.KeepLevels(build, [9]);
        Assert.Equal(1, packages.Levels(build)!.Length);
        packages.KeepMarks(build, output => output.Write([7, 7, 7]));
        Assert.Equal([7, 7, 7], Bytes(packages.Marks(build)!));
        packages.Remove(build);
        Assert.Equal([null, null, null, null], new[] { packages.Package(build), packages.Proof(build), packages.Levels(build), packages.Marks(build) });

        // Made while it was removed.
        packages.KeepMarks(build, output => output.Write([7]));
        Assert.Null(packages.Marks(build));
        Assert.Empty(objects.Names("packages", string.Empty));
        Assert.Empty(objects.Names($"packages/{build:N}", string.Empty));
    }

    [Fact]
    public void A_package_is_never_there_with_a_file_less_and_a_second_try_leaves_nothing_of_the_first()
    {
        var (packages, objects) = Store(onDisk: true);
        var build = Guid.NewGuid();
        var half = Made([1], [2]);
        File.Delete(half.Places.Values.Last());
        Assert.ThrowsAny<IOException>(() => packages.Keep(build, half, [1], [2]));
        Assert.Null(packages.Package(build));
        packages.Keep(build, Made([3]), [1], [2]);
        Assert.NotNull(packages.Package(build));
        Assert.Single(objects.Names($"packages/{build:N}", string.Empty));
    }

    [Fact]
    public void A_package_of_before_is_read_as_the_zip_that_it_is()
    {
        var (packages, objects) = Store(onDisk: true);
        var build = Guid.NewGuid();
        objects.Put($"packages/{build:N}.zip", output => output.Write([1, 2, 3]));
        Assert.Equal([1, 2, 3], Bytes(packages.Package(build)!));
        packages.Remove(build);
        Assert.Null(packages.Package(build));
    }
}
