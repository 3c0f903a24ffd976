using Lyrotrans.Formats.OpenSession;
using System.Buffers.Binary;
using CsCheck;
using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.Aaf;
using Lyrotrans.Formats.Compound;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Formats.Tests;

public class CompoundTests
{
    private static byte[] Bytes(string name)
    {
        using var stream = Fixtures.Open($"aaf/{name}.aaf");
        using var copy = new MemoryStream();
        stream.CopyTo(copy);
        return copy.ToArray();
    }

    [Theory]
    [InlineData("linked-mono", 4096)]
    [InlineData("crossfades", 512)]
    public void Both_sector_sizes_are_opened(string name, int sector)
    {
        using var stream = new MemoryStream(Bytes(name));
        var file = CompoundFile.Open(stream, name);
        Assert.Equal(sector, file.SectorBytes);
        var children = file.Children(file.Root);
        Assert.True(children.TryGetValue("referenced properties", out _));
        Assert.True(children.TryGetValue("properties", out var properties));
        Assert.Equal(0x4C, file.ReadAll(properties, 1000)[0]);
    }

    [Fact]
    public void A_stream_is_read_at_any_place()
    {
        using var stream = new MemoryStream(Bytes("embedded-wave"));
        var file = CompoundFile.Open(stream, "e");
        var essence = Streams(file, file.Root).MaxBy(e => e.Size)!;
        Assert.True(essence.Size > 100_000);
        using var all = file.OpenStream(essence);
        var bytes = new byte[essence.Size];
        all.ReadExactly(bytes);
        Assert.Equal("RIFF"u8.ToArray(), bytes[..4]);
        Gen.Select(Gen.Int[0, bytes.Length - 1], Gen.Int[1, 9000]).Sample((at, count) =>
        {
            count = Math.Min(count, bytes.Length - at);
            var part = new byte[count];
            all.Position = at;
            all.ReadExactly(part);
            return part.AsSpan().SequenceEqual(bytes.AsSpan(at, count));
        }, iter: 200, threads: 1);
        all.Position = essence.Size;
        Assert.Equal(0, all.Read(new byte[1], 0, 1));
    }

    private static IEnumerable<CompoundEntry> Streams(CompoundFile file, CompoundEntry storage) => file.Children(storage).All
        .SelectMany(e => e.Kind == CompoundEntryKind.Storage ? Streams(file, e) : [e]);

    // Whatever session comes of damage, it can be kept and opened again.
    private static void Survives(Damage damage, byte[] bytes) => damage.Take(
        () => EditImport.Make(AafDocument.Open(new MemoryStream(bytes), "x.aaf").Read()).Session,
        session => Assert.Equal(session, SessionDocumentReader.Read(new MemoryStream(SessionDocumentWriter.Write(session)), "kept.json")));

    [Theory]
    [InlineData("crossfades")]
    [InlineData("nested")]
    [InlineData("embedded-wave")]
    [InlineData("odd-but-legal")]
    public void Any_damage_is_a_clear_error_or_a_result(string name)
    {
        var good = Bytes(name);
        var damage = new Damage();
        Gen.Select(Gen.Int[0, good.Length - 1], Gen.Byte).Array[1, 40].Sample(hits =>
        {
            var bytes = Damage.Changed(good, hits);

            Survives(damage, bytes);
        }, iter: 120);
        Gen.Int[0, good.Length].Sample(length => Survives(damage, good[..length]), iter: 60);
        damage.BothHappened();
    }

    [Fact]
    public void Damage_in_tables_and_directory_is_survived()
    {
        var good = Bytes("crossfades");
        var directory = (int)((BinaryPrimitives.ReadUInt32LittleEndian(good.AsSpan(48)) + 1) * 512);
        var table = (int)((BinaryPrimitives.ReadUInt32LittleEndian(good.AsSpan(76)) + 1) * 512);
        var damage = new Damage();
        Gen.Select(Gen.Bool, Gen.Int[0, 511], Gen.Byte).Array[1, 12].Sample(hits =>
        {
            var bytes = (byte[])good.Clone();
            foreach (var (inTable, at, value) in hits)
            {
                bytes[(inTable ? table : directory) + at] = value;
            }

            Survives(damage, bytes);
        }, iter: 300);
        damage.BothHappened();
    }

    [Fact]
    public void A_chain_that_comes_back_to_itself_is_told()
    {
        var bytes = Bytes("crossfades");
        var start = BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(48));
        var table = (int)((BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(76)) + 1) * 512);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(table + ((int)start * 4)), start);
        var problem = Assert.Throws<BadInputException>(() => AafDocument.Open(new MemoryStream(bytes), "x.aaf").Read());
        Assert.Contains("comes back to itself", problem.Message);
    }
}
