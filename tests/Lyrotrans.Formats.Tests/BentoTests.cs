using System.Buffers.Binary;
using System.Text;
using CsCheck;
using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.Bento;

namespace Lyrotrans.Formats.Tests;

public sealed class BentoTests
{
    private sealed record Value(uint Owner, string Property, string Type, byte[] Bytes);

    private static List<Value> Values(int seed)
    {
        var random = new Random(seed);
        return Enumerable.Range(0, random.Next(1, 60)).Select(_ =>
        {
            var bytes = new byte[random.Next(4) switch { 0 => random.Next(0, 5), 1 => random.Next(5, 200), 2 => 70_000, _ => 12 }];
            random.NextBytes(bytes);
            return new Value((uint)random.Next(0, 12), $"X:P{random.Next(8)}", $"x:T{random.Next(3)}", bytes);
        }).DistinctBy(v => (v.Owner, v.Property)).ToList();
    }

    private static void AssertHolds(BentoFile file, List<Value> values, uint first)
    {
        foreach (var value in values)
        {
            var found = file.Values(first + value.Owner).Single(v => file.NameOf(v.Property) == value.Property);
            Assert.Equal(value.Type, file.NameOf(found.Type));
            Assert.Equal(value.Bytes, file.Read(found, int.MaxValue));
            using var stream = file.Open(found)!;
            var read = new byte[stream.Length];
            stream.ReadExactly(read);
            Assert.Equal(value.Bytes, read);
        }
    }

    [Fact]
    public void What_was_written_is_read() => Gen.Int[0, int.MaxValue - 1].Sample(
        seed =>
        {
            var values = Values(seed);
            var writer = new BentoWriter();
            var ids = Enumerable.Range(0, 12).Select(_ => writer.NewObject()).ToList();
            foreach (var value in values)
            {
                if (value.Bytes.Length > 1000)
                {
                    writer.Add(ids[(int)value.Owner], value.Property, value.Type, value.Bytes.Length, s => s.Write(value.Bytes));
                }
                else
                {
                    writer.Add(ids[(int)value.Owner], value.Property, value.Type, value.Bytes);
                }
            }

            using var output = new MemoryStream();
            writer.Write(output);
            Assert.Equal(output.Length, writer.Size);
            AssertHolds(BentoFile.Open(output, "x"), values, ids[0]);
        },
        iter: 100);

    [Fact]
    public void A_value_that_writes_another_length_than_it_said_is_refused()
    {
        var writer = new BentoWriter();
        writer.Add(writer.NewObject(), "X:P", "x:T", 10, s => s.Write(new byte[9]));
        Assert.Throws<InvalidOperationException>(() => writer.Write(new MemoryStream()));
    }

    [Fact]
    public void A_file_beyond_its_offsets_is_refused_before_it_is_begun()
    {
        var writer = new BentoWriter();
        var id = writer.NewObject();
        writer.Add(id, "X:P", "x:T", 3L << 30, _ => Assert.Fail("nothing may be written"));
        writer.Add(id, "X:Q", "x:T", 2L << 30, _ => Assert.Fail("nothing may be written"));
        Assert.Throws<InvalidOperationException>(() => writer.Write(new MemoryStream()));
    }

    [Fact]
    public void Either_form_and_either_byte_order_is_read_with_values_in_parts() => Gen.Select(Gen.Int[0, int.MaxValue - 1], Gen.Bool, Gen.Bool, Gen.Bool).Sample(
        (seed, big, coded, letters) =>
        {
            var values = Values(seed);
            var bytes = new OtherBento(big, coded, letters, seed).Write(values.Select(v => (v.Owner, v.Property, v.Type, v.Bytes)));
            var file = BentoFile.Open(new MemoryStream(bytes), "x");
            Assert.Equal(big, file.IsBigEndian);
            Assert.Equal(coded ? 2 : 1, file.ContentsForm);
            AssertHolds(file, values, OtherBento.First);
        },
        iter: 200);

    [Fact]
    public void A_value_of_gigabytes_is_opened_and_not_loaded()
    {
        var path = Path.GetTempFileName();
        try
        {
            const long Length = 3L << 30;
            using (var sparse = File.Open(path, FileMode.Open))
            {
                // The sound is a hole of three gigabytes; what is written lies behind it.
                sparse.Position = Length - 3;
                sparse.Write("end"u8);
                sparse.Write(new OtherBento(false, true, true, 1).Tail((uint)Length));
            }

            using var stream = File.OpenRead(path);
            var before = GC.GetAllocatedBytesForCurrentThread();
            var file = BentoFile.Open(stream, "x");
            var value = file.Values(OtherBento.First).Single();
            Assert.Equal(Length, value.Length);
            using var sound = file.Open(value)!;
            sound.Position = Length - 3;
            var end = new byte[3];
            sound.ReadExactly(end);
            Assert.Equal("end"u8.ToArray(), end);
            Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 0, 16 << 20);
        }
        finally
        {
            File.Delete(path);
        }
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_part_whose_beginning_is_lost_joins_no_other_value(bool coded)
    {
        var file = BentoFile.Open(new MemoryStream(new OtherBento(false, coded, true, 1).Broken()), "x");
        Assert.Equal([10, 10L], file.Values(OtherBento.First).Select(v => v.Length));
        Assert.Contains(file.Findings, f => f.Text.Contains("beyond the end", StringComparison.Ordinal));
    }

    [Fact]
    public void Large_values_that_share_bytes_are_not_opened()
    {
        var bytes = new OtherBento(false, false, true, 1).Shared(80_000);
        var file = BentoFile.Open(new MemoryStream(bytes), "x");
        Assert.All(file.Values(OtherBento.First), v => Assert.Null(file.Open(v)));
        Assert.Contains(file.Findings, f => f.Text.Contains("over one another", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData(16, uint.MaxValue)]
    [InlineData(20, uint.MaxValue)]
    [InlineData(20, 0u)]
    public void A_table_that_lies_beyond_the_file_is_a_clear_error(int at, uint value)
    {
        var bytes = new OtherBento(false, false, true, 1).Write([(0, "X:P", "x:T", new byte[100])]);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(bytes.Length - 24 + at), value);
        var problem = Assert.Throws<BadInputException>(() => BentoFile.Open(new MemoryStream(bytes), "x.omf"));
        Assert.Contains("x.omf", problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_file_cut_short_or_of_another_kind_is_a_clear_error()
    {
        var bytes = new OtherBento(false, false, true, 1).Write([(0, "X:P", "x:T", new byte[100])]);
        Assert.Throws<BadInputException>(() => BentoFile.Open(new MemoryStream(bytes[..^1]), "x"));
        Assert.Throws<BadInputException>(() => BentoFile.Open(new MemoryStream(Encoding.ASCII.GetBytes("nothing")), "x"));
        Assert.Throws<BadInputException>(() => BentoFile.Open(new MemoryStream(), "x"));
    }
}
