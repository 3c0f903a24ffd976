using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Storage.Store;

namespace Lyrotrans.Web.Tests;

public sealed class StoreTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-store-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task A_file_is_kept_by_its_hash_once()
    {
        var store = new MediaStore(_folder);
        var hash = Convert.ToHexStringLower(SHA256.HashData("sound"u8));
        for (var i = 0; i < 2; i++)
        {
            var path = Path.Combine(store.Incoming, Guid.NewGuid().ToString("N"));
            await File.WriteAllTextAsync(path, "sound");
            Assert.Equal(hash, await store.TakeAsync(path, CancellationToken.None));
            Assert.False(File.Exists(path));
        }

        Assert.True(store.Has(hash));
        Assert.Equal("sound", await File.ReadAllTextAsync(store.PathOf(hash)));
        Assert.Single(Directory.EnumerateFiles(Path.Combine(_folder, "media"), "*", SearchOption.AllDirectories));
        Assert.Empty(Directory.EnumerateFiles(store.Incoming));
    }

    [Theory]
    [InlineData("../../etc/passwd")]
    [InlineData("ABCDEF")]
    [InlineData("")]
    public void A_name_that_is_no_hash_never_becomes_a_path(string name)
    {
        var store = new MediaStore(_folder);
        Assert.False(store.Has(name));
        Assert.Throws<ArgumentException>(() => store.PathOf(name));
        Assert.Throws<ArgumentException>(() => store.DerivedPathOf(name, "peaks"));
    }

    [Fact]
    public async Task A_document_is_kept_whole()
    {
        var store = new MediaStore(_folder);
        var bytes = Encoding.UTF8.GetBytes("{\"a\":1}");
        var hash = await store.KeepAsync(bytes, CancellationToken.None);
        Assert.Equal(bytes, await File.ReadAllBytesAsync(store.PathOf(hash)));
    }
}
