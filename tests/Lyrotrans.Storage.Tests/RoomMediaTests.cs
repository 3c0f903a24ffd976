using Lyrotrans.Files;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Storage.Tests;

public sealed class RoomMediaTests(StorageFixture storage)
{
    private static string Hash(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));

    private static string Text(IStoredFile file)
    {
        using var reader = new StreamReader(file.Open());
        return reader.ReadToEnd();
    }

    [Fact]
    public async Task A_file_is_kept_by_its_hash_once_and_each_room_that_brought_it_has_it()
    {
        var rooms = new[] { storage.NewRoom().Room, storage.NewRoom().Room };
        foreach (var room in rooms.Append(rooms[0]))
        {
            var path = storage.Arrived("sound");
            Assert.Equal(Hash("sound"), await storage.Rooms.Of(room).TakeAsync(path, CancellationToken.None));
            Assert.False(File.Exists(path));
        }

        Assert.All(rooms, r => Assert.Equal("sound", Text(storage.Rooms.Of(r).FileOf(Hash("sound")))));
        Assert.Single(Directory.EnumerateFiles(storage.Folder, Hash("sound"), SearchOption.AllDirectories));
    }

    [Fact]
    public async Task A_hash_alone_opens_nothing()
    {
        await storage.Rooms.Of(storage.NewRoom().Room).TakeAsync(storage.Arrived("another room's"), CancellationToken.None);
        var other = storage.Rooms.Of(storage.NewRoom().Room);
        Assert.False(other.Has(Hash("another room's")));
        Assert.Throws<InvalidOperationException>(() => other.FileOf(Hash("another room's")));
        Assert.Throws<InvalidOperationException>(() => other.DerivedOf(Hash("another room's"), "peaks"));
        Assert.Throws<InvalidOperationException>(() => other.KeepDerived(Hash("another room's"), "peaks", _ => { }));

        // Nor by saying beforehand that it will be asked for.
        Assert.False(storage.Rooms.Of(storage.NewRoom().Room).Expecting([Hash("another room's"), null, "no hash"]).Has(Hash("another room's")));
    }

    [Fact]
    public async Task What_is_said_to_be_missing_is_missing_though_its_bytes_are_there()
    {
        var room = storage.Rooms.Of(storage.NewRoom().Room);
        var sha256 = await room.TakeAsync(storage.Arrived("here"), CancellationToken.None);
        var media = new Media { Id = "m", FileName = "m.wav", Channels = 1, Sha256 = sha256, Place = MediaPlace.Beside };
        Assert.True(room.Holds(media));
        Assert.False(room.Holds(media with { Place = MediaPlace.Missing }));
        Assert.False(room.Holds(media with { Sha256 = null }));
    }

    [Fact]
    public async Task A_row_whose_bytes_have_not_come_yet_is_not_there()
    {
        var room = storage.NewRoom().Room;
        await Assert.ThrowsAnyAsync<IOException>(() => storage.Rooms.Of(room).TakeAsync(Path.Combine(storage.Store.Incoming, "gone"), Hash("gone"), CancellationToken.None));
        Assert.False(storage.Rooms.Of(room).Has(Hash("gone")));
    }

    [Fact]
    public async Task Many_threads_may_ask_at_once()
    {
        var room = storage.Rooms.Of(storage.NewRoom().Room);
        var held = new List<string>();
        for (var i = 0; i < 40; i++)
        {
            held.Add(await room.TakeAsync(storage.Arrived($"many {i}"), CancellationToken.None));
        }

        var fresh = storage.Rooms.Of(room.RoomId).Expecting(held);
        Parallel.For(0, 400, i => Assert.Equal(i % 2 == 0, fresh.Has(i % 2 == 0 ? held[i / 10] : Hash($"not {i}"))));
    }

    [Theory]
    [InlineData("../../etc/passwd")]
    [InlineData("ABCDEF")]
    [InlineData("")]
    public void A_name_that_is_no_hash_never_becomes_a_path(string name)
    {
        var room = storage.Rooms.Of(storage.NewRoom().Room);
        Assert.False(room.Has(name));
        Assert.Throws<ArgumentException>(() => room.FileOf(name));
        Assert.Throws<ArgumentException>(() => room.DerivedOf(name, "peaks"));
    }
}
