using Lyrotrans.Files;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Storage.Revisions;

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
    public async Task What_a_room_lets_go_of_is_gone_with_all_that_was_made_from_it_unless_another_has_it()
    {
        var (one, other) = (storage.Rooms.Of(storage.NewRoom().Room), storage.Rooms.Of(storage.NewRoom().Room));
        var sha256 = await one.TakeAsync(storage.Arrived("let go"), CancellationToken.None);
        await other.TakeAsync(storage.Arrived("let go"), CancellationToken.None);
        one.KeepDerived(sha256, "peaks", output => output.Write("peaks"u8));
        one.KeepDerived(sha256, "levels", output => output.Write("levels"u8));
        await one.LetGoAsync(sha256, CancellationToken.None);
        Assert.False(one.Has(sha256));
        Assert.False(storage.Rooms.Of(one.RoomId).Has(sha256));
        Assert.Equal(("let go", "peaks"), (Text(other.FileOf(sha256)), Text(other.DerivedOf(sha256, "peaks")!)));

        // Who does not have it takes nothing away.
        await one.LetGoAsync(sha256, CancellationToken.None);
        await storage.Rooms.Of(storage.NewRoom().Room).LetGoAsync(sha256, CancellationToken.None);
        Assert.True(storage.Rooms.Of(other.RoomId).Has(sha256));
        await other.LetGoAsync(sha256, CancellationToken.None);
        Assert.Empty(Directory.EnumerateFiles(storage.Folder, $"{sha256}*", SearchOption.AllDirectories));

        // And it comes again as if it had never been here.
        await one.TakeAsync(storage.Arrived("let go"), CancellationToken.None);
        Assert.True(storage.Rooms.Of(one.RoomId).Has(sha256));
        Assert.Null(one.DerivedOf(sha256, "peaks"));
    }

    [Fact]
    public async Task The_document_of_a_revision_stays_though_a_room_lets_go_of_a_file_of_the_same_bytes()
    {
        var (roomId, transfer) = storage.NewRoom();
        await using var database = storage.CreateDbContext();
        var documents = new RevisionDocuments("intake 7"u8.ToArray(), "session 7"u8.ToArray(), "preparation 7"u8.ToArray());
        var revision = await storage.Log(database).CommitAsync(transfer, 0, "made", "somebody", documents, CancellationToken.None);
        var room = storage.Rooms.Of(roomId);
        Assert.Equal(revision.SessionSha, await room.TakeAsync(storage.Arrived("session 7"), CancellationToken.None));
        await room.LetGoAsync(revision.SessionSha, CancellationToken.None);
        Assert.Equal("session 7", Encoding.UTF8.GetString(new DocumentStore(storage.Store).Session(revision)));
    }

    [Fact]
    public async Task Whoever_takes_while_another_lets_go_has_it()
    {
        var rooms = Enumerable.Range(0, 6).Select(_ => storage.NewRoom().Room).ToList();
        for (var round = 0; round < 10; round++)
        {
            var sha256 = Hash($"turns {round}");
            await storage.Rooms.Of(rooms[0]).TakeAsync(storage.Arrived($"turns {round}"), CancellationToken.None);
            await Task.WhenAll(rooms.Select((room, i) => i == 0
                ? storage.Rooms.Of(room).LetGoAsync(sha256, CancellationToken.None)
                : storage.Rooms.Of(room).TakeAsync(storage.Arrived($"turns {round}"), CancellationToken.None)));
            Assert.False(storage.Rooms.Of(rooms[0]).Has(sha256));
            Assert.All(rooms.Skip(1), r => Assert.True(storage.Rooms.Of(r).Has(sha256)));
        }
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
