using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using CsCheck;
using Lyrotrans.Formats.Compound;

namespace Lyrotrans.Formats.Tests;

public sealed class CompoundWriterTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-compound-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static byte[] Bytes(Random random, int length)
    {
        var bytes = new byte[length];
        random.NextBytes(bytes);
        return bytes;
    }

    /// <summary>Names of every length that a directory takes, sizes around every edge that a container has.</summary>
    private static CompoundStorage Storage(Random random, int depth, Dictionary<string, byte[]> streams, string path)
    {
        int[] sizes = [0, 1, 63, 64, 65, 511, 512, 4095, 4096, 4097, 8192, 70_000];
        var storage = new CompoundStorage(path.Length == 0 ? string.Empty : path.Split('/')[^2], new Guid(Bytes(random, 16)));
        var names = Enumerable.Range(0, random.Next(1, 30)).Select(i => $"{new string((char)('a' + random.Next(26)), random.Next(0, 24))}{(char)('A' + (i % 26))}{i}").Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        foreach (var name in names)
        {
            if (depth < 3 && random.Next(5) == 0)
            {
                var inner = Storage(random, depth + 1, streams, $"{path}{name}/");
                storage.Storages.Add(inner);
                continue;
            }

            var bytes = Bytes(random, sizes[random.Next(sizes.Length)]);
            streams[path + name] = bytes;
            storage.Streams.Add(random.Next(2) == 0 ? new CompoundContent(name, bytes) : new CompoundContent(name, bytes.Length, output =>
            {
                // In pieces, as sound comes.
                for (var at = 0; at < bytes.Length; at += 1000)
                {
                    output.Write(bytes, at, Math.Min(1000, bytes.Length - at));
                }
            }));
        }

        return storage;
    }

    private static Dictionary<string, byte[]> ReadAll(Stream stream)
    {
        var file = CompoundFile.Open(stream, "x");
        var found = new Dictionary<string, byte[]>();
        void Into(CompoundEntry storage, string path)
        {
            foreach (var entry in file.Children(storage).All)
            {
                if (entry.Kind == CompoundEntryKind.Storage)
                {
                    Into(entry, $"{path}{entry.Name}/");
                }
                else
                {
                    found[path + entry.Name] = file.ReadAll(entry, 1 << 20);
                }
            }
        }

        Into(file.Root, string.Empty);
        return found;
    }

    [Fact]
    public void Every_stream_comes_back_and_the_size_is_known_before() => Gen.Select(Gen.Int, Gen.Bool).Sample(
        (seed, small) =>
        {
            var sector = small ? 512 : 4096;
            var streams = new Dictionary<string, byte[]>();
            var root = Storage(new Random(seed), 0, streams, string.Empty);
            using var output = new MemoryStream();
            CompoundWriter.Write(root, sector, output);
            Assert.Equal(CompoundWriter.SizeOf(root, sector), output.Length);
            var found = ReadAll(output);
            Assert.Equal(streams.Keys.Order(), found.Keys.Order());
            Assert.All(streams, s => Assert.True(found[s.Key].AsSpan().SequenceEqual(s.Value), s.Key));
        },
        iter: Cases.Of(25));

    [Theory]
    [InlineData(512)]
    [InlineData(4096)]
    public void Three_other_readers_see_the_same_streams(int sector)
    {
        var streams = new Dictionary<string, byte[]>();
        var root = Storage(new Random(sector), 0, streams, string.Empty);

        // Large enough with small sectors that the table has a list of its own beyond the header (7 MB and more).
        var large = Bytes(new Random(2), 9_000_000);
        streams["large"] = large;
        root.Streams.Add(new CompoundContent("large", large));
        var path = Path.Combine(_folder, "t.bin");
        using (var output = File.Create(path))
        {
            CompoundWriter.Write(root, sector, output);
        }

        var (code, listed, errors) = OtherProgram.Run("/usr/bin/python3", OtherProgram.Script("compound_list.py"), path);
        Assert.True(code == 0, errors);
        var seen = JsonDocument.Parse(listed).RootElement.EnumerateObject().ToDictionary(p => p.Name, p => (p.Value[0].GetInt64(), p.Value[1].GetString()));
        Assert.Equal(streams.ToDictionary(s => s.Key, s => ((long)s.Value.Length, (string?)Convert.ToHexStringLower(SHA256.HashData(s.Value)))), seen);

        var gsf = Encoding.UTF8.GetString(OtherProgram.Run("gsf", "list", path).Output).Split('\n').Where(l => l.StartsWith("f ", StringComparison.Ordinal))
            .Select(l => l[1..].TrimStart().Split(' ', 2)).ToDictionary(p => p[1].TrimStart(), p => long.Parse(p[0], System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal(streams.ToDictionary(s => s.Key, s => (long)s.Value.Length), gsf);
        foreach (var name in streams.Keys.Take(12).Append("large"))
        {
            Assert.True(OtherProgram.Run("gsf", "cat", path, name).Output.AsSpan().SequenceEqual(streams[name]), name);
        }

        var (zip, _, zipErrors) = OtherProgram.Run("7z", "x", "-tCompound", $"-o{_folder}/out", path);
        Assert.True(zip == 0, zipErrors);
        Assert.All(streams.Where(s => s.Value.Length > 0), s => Assert.True(File.ReadAllBytes(Path.Combine(_folder, "out", s.Key)).AsSpan().SequenceEqual(s.Value), s.Key));
    }

    /// <summary>A file of which only the tables are held: its contents are zeros that are never made.</summary>
    [Theory]
    [InlineData(4096, 4_400_000_000)]
    [InlineData(512, 300_000_000)]
    public void Contents_beyond_the_locked_sector_and_beyond_four_gigabytes_come_back(int sector, long length)
    {
        var root = new CompoundStorage(string.Empty, Guid.Empty);
        var tail = Bytes(new Random(3), 5000);
        root.Streams.Add(new CompoundContent("long", length, output =>
        {
            var zeros = new byte[1 << 20];
            for (var left = length; left > 0; left -= zeros.Length)
            {
                output.Write(zeros, 0, (int)Math.Min(left, zeros.Length));
            }
        }));
        root.Streams.Add(new CompoundContent("tail of it", tail));
        var path = Path.Combine(_folder, "large.bin");
        using (var output = new SparseFile(path))
        {
            CompoundWriter.Write(root, sector, output);
        }

        using var stream = File.OpenRead(path);
        Assert.Equal(CompoundWriter.SizeOf(root, sector), stream.Length);
        var file = CompoundFile.Open(stream, "large");
        var entries = file.Children(file.Root).All.ToDictionary(e => e.Name);
        Assert.Equal(length, entries["long"].Size);
        Assert.Equal(tail, file.ReadAll(entries["tail of it"], 5000));
        using var inside = file.OpenStream(entries["long"]);
        inside.Position = length - 3;
        Assert.Equal(3, inside.Read(new byte[10]));
    }

    /// <summary>Writes zeros as holes, so that gigabytes take no room on the disk.</summary>
    private sealed class SparseFile(string path) : Stream
    {
        private readonly FileStream _file = File.Create(path);

        public override bool CanRead => false;

        public override bool CanSeek => false;

        public override bool CanWrite => true;

        public override long Length => _file.Length;

        public override long Position
        {
            get => _file.Position;
            set => throw new NotSupportedException();
        }

        public override void Write(byte[] buffer, int offset, int count) => Write(buffer.AsSpan(offset, count));

        public override void Write(ReadOnlySpan<byte> buffer)
        {
            if (buffer.ContainsAnyExcept((byte)0))
            {
                _file.Write(buffer);
            }
            else
            {
                _file.Seek(buffer.Length, SeekOrigin.Current);
            }
        }

        public override void Flush() => _file.Flush();

        public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();

        protected override void Dispose(bool disposing)
        {
            _file.SetLength(Math.Max(_file.Length, _file.Position));
            _file.Dispose();
            base.Dispose(disposing);
        }
    }
}
