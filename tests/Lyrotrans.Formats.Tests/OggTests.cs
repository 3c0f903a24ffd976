using CsCheck;
using Lyrotrans.Formats.Ogg;

namespace Lyrotrans.Formats.Tests;

/// <summary>Comments in Ogg files whose headers are laced over pages in any way, and files that are damaged.</summary>
public sealed class OggTests : IDisposable
{
    private readonly string _path = Path.GetTempFileName();

    public void Dispose() => File.Delete(_path);

    /// <summary>A file of three headers and some sound, each packet of so many bytes.</summary>
    private static byte[] Made(int comment, int setup, int sound)
    {
        using var file = new MemoryStream();
        byte[] Packet(string head, int length) => [.. System.Text.Encoding.Latin1.GetBytes(head), .. Enumerable.Range(0, length).Select(i => (byte)(i * 7))];
        byte[] text = [.. System.Text.Encoding.UTF8.GetBytes("TITLE=" + new string('x', comment))];
        byte[] comments = [.. "\u0003vorbis"u8, 2, 0, 0, 0, .. "me"u8, 1, 0, 0, 0, .. BitConverter.GetBytes(text.Length), .. text, 1];
        Write(file, 0, 2, Packet("\u0001vorbis", 23));
        var number = 1u;
        foreach (var (pieces, body, continues) in Laced([comments, Packet("\u0005vorbis", setup)]))
        {
            Write(file, number++, continues ? (byte)1 : (byte)0, body, pieces);
        }

        Write(file, number, 4, Packet("sound", sound));
        return file.ToArray();
    }

    private static IEnumerable<(byte[] Pieces, byte[] Body, bool Continues)> Laced(byte[][] packets)
    {
        var pieces = packets.SelectMany(p => Enumerable.Repeat((byte)255, p.Length / 255).Append((byte)(p.Length % 255))).ToList();
        byte[] body = [.. packets.SelectMany(p => p)];
        for (var (from, at) = (0, 0); from < pieces.Count; from += 255)
        {
            byte[] own = [.. pieces.Skip(from).Take(255)];
            yield return (own, body[at..(at + own.Sum(p => p))], from > 0 && pieces[from - 1] == 255);
            at += own.Sum(p => p);
        }
    }

    // Checksums are not looked at when it is read; those that are written are held against a reader of another house by the packages' tests.
    private static void Write(MemoryStream file, uint number, byte flags, byte[] body, byte[]? pieces = null)
    {
        pieces ??= [.. Enumerable.Repeat((byte)255, body.Length / 255), (byte)(body.Length % 255)];
        file.Write([.. "OggS"u8, 0, flags, .. new byte[8], 9, 9, 9, 9, .. BitConverter.GetBytes(number), 0, 0, 0, 0, (byte)pieces.Length, .. pieces, .. body]);
    }

    private static string Named(IEnumerable<KeyValuePair<string, string>> comments) => string.Join('|', comments.Select(c => $"{c.Key}={c.Value}"));

    [Fact]
    public void Comments_are_added_whatever_the_headers_are_laced_over_and_all_else_stays() =>
        Gen.Select(Gen.Int[0, 80_000], Gen.Int[0, 140_000], Gen.Int[0, 3000], Gen.Int[0, 70_000]).Sample((comment, setup, sound, more) =>
        {
            var before = Made(comment, setup, sound);
            File.WriteAllBytes(_path, before);
            var added = new string('y', more);
            OggComments.Add(_path, [new("BPM", "92.5"), new("LONG", added)]);
            var after = File.ReadAllBytes(_path);
            Assert.Equal($"TITLE={new string('x', comment)}|BPM=92.5|LONG={added}", Named(OggComments.Read(new MemoryStream(after))));

            // The page of sound is the last, and all pages are numbered without a gap.
            Assert.Equal(before[^sound..], after[^sound..]);
            var numbers = new List<uint>();
            for (var at = 0; at < after.Length; at += 27 + after[at + 26] + after.Skip(at + 27).Take(after[at + 26]).Sum(b => b))
            {
                Assert.Equal("OggS", System.Text.Encoding.Latin1.GetString(after, at, 4));
                numbers.Add(BitConverter.ToUInt32(after, at + 18));
            }

            Assert.Equal(Enumerable.Range(0, numbers.Count).Select(n => (uint)n), numbers);
        }, iter: 30, threads: 1);

    [Fact]
    public void What_is_cut_or_of_another_codec_has_no_comments_and_is_left_as_it_is()
    {
        var whole = Made(2000, 5000, 100);
        for (var length = 0; length < whole.Length - 200; length += 97)
        {
            var cut = whole[..length];
            File.WriteAllBytes(_path, cut);
            Assert.Throws<InvalidDataException>(() => OggComments.Add(_path, [new("KEY", "Dm")]));
            Assert.Equal(cut, File.ReadAllBytes(_path));
            Assert.True(OggComments.Read(new MemoryStream(cut)).Count <= 1);
        }

        var other = whole.ToArray();
        "OpusHead"u8.CopyTo(other.AsSpan(28));
        Assert.Empty(OggComments.Read(new MemoryStream(other)));
    }
}
