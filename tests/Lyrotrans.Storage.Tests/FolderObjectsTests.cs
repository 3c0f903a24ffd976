using Lyrotrans.Core.Storing;
using Lyrotrans.Storage.Store;

namespace Lyrotrans.Storage.Tests;

public sealed class FolderObjectsTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory().FullName;

    private FolderObjects Objects => new(Path.Combine(_folder, "objects"));

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void What_is_put_in_comes_out_from_any_place()
    {
        Objects.Put("a/b.bin", output => output.Write([1, 2, 3, 4]));
        var file = Objects.Find("a/b.bin")!;
        using var stream = file.Open();
        stream.Position = 2;
        Assert.Equal((4, 3, 4), (file.Length, stream.ReadByte(), stream.ReadByte()));
        using var local = file.Local();
        Assert.False(local.IsCopy);
        Assert.Equal([1, 2, 3, 4], File.ReadAllBytes(local.Path));
    }

    [Fact]
    public void A_file_that_could_not_be_written_whole_leaves_the_one_before_and_nothing_else()
    {
        Objects.Put("a/b.bin", output => output.WriteByte(7));
        Assert.Throws<IOException>(() => Objects.Put("a/b.bin", output =>
        {
            output.WriteByte(8);
            throw new IOException("The disk is full.");
        }));
        Assert.Equal([7], File.ReadAllBytes(Assert.Single(Directory.EnumerateFiles(_folder, "*", SearchOption.AllDirectories))));
    }

    [Fact]
    public void What_is_taken_is_gone_from_its_place_and_what_is_deleted_from_its_name()
    {
        var arrived = Path.Combine(_folder, "arrived");
        File.WriteAllText(arrived, "sound");
        Objects.Take("x.wav", arrived);
        Assert.False(File.Exists(arrived));
        Assert.Equal(5, Objects.Find("x.wav")!.Length);
        Objects.Delete("x.wav");
        Objects.Delete("x.wav");
        Assert.Null(Objects.Find("x.wav"));
    }

    [Theory]
    [InlineData("../x")]
    [InlineData("/etc/passwd")]
    [InlineData("a//b")]
    [InlineData("a/.hidden")]
    [InlineData("a\\b")]
    [InlineData("")]
    public void A_name_never_leaves_the_folder(string name)
    {
        Assert.False(ObjectName.IsValid(name));
        Assert.Throws<ArgumentException>(() => Objects.Find(name));
        Assert.Throws<ArgumentException>(() => Objects.Put(name, _ => { }));
        Assert.Throws<ArgumentException>(() => Objects.Delete(name));
    }

    [Fact]
    public void A_copy_goes_when_it_is_closed_and_a_file_that_lies_there_stays()
    {
        var elsewhere = new MemoryObjects(_folder);
        elsewhere.Put("far", output => output.Write([5, 6]));
        var copy = elsewhere.Find("far")!.Local();
        Assert.True(copy.IsCopy);
        Assert.Equal([5, 6], File.ReadAllBytes(copy.Path));
        copy.Dispose();
        Assert.False(File.Exists(copy.Path));
        Objects.Put("stays", output => output.WriteByte(1));
        Objects.Find("stays")!.Local().Dispose();
        Assert.NotNull(Objects.Find("stays"));
    }
}
