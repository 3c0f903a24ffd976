using System.Buffers.Binary;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Peaks;

/// <summary>
/// Smallest and largest sample of every stretch of a file, at several stretches: 256 samples, then four times as many each
/// level up. Values are 16-bit, full scale ±32 767. Kept in a small file beside the media, with what was measured on the way.
/// </summary>
public sealed class PeakPyramid
{
    public const int FinestStretch = 256;
    public const int Factor = 4;
    private const uint Magic = 0x314B504C;
    private const int HeaderBytes = 56;
    private const int Block = FinestStretch * 256;
    private readonly short[][] _levels;

    private PeakPyramid(int channels, long frames, short[][] levels, MediaSound sound)
    {
        Channels = channels;
        Frames = frames;
        _levels = levels;
        Sound = sound;
    }

    public int Channels { get; }

    public long Frames { get; }

    public int Levels => _levels.Length;

    public MediaSound Sound { get; }

    /// <summary>Samples that one pair of a level covers.</summary>
    public static long StretchOf(int level)
    {
        long stretch = FinestStretch;
        for (var i = 0; i < level; i++)
        {
            stretch *= Factor;
        }

        return stretch;
    }

    /// <summary>Pairs of min and max, channel by channel within a stretch: stretch 0 channel 0 min, max, channel 1 min, max, …</summary>
    public ReadOnlySpan<short> Level(int level) => _levels[level];

    public static PeakPyramid Measure(ISampleSource source, CancellationToken stop)
    {
        var channels = source.Channels;
        var finest = new short[(int)((source.Length + FinestStretch - 1) / FinestStretch) * channels * 2];
        var planar = Enumerable.Range(0, channels).Select(_ => new double[Block]).ToArray();
        var meter = new SoundMeter(channels);
        for (long at = 0; at < source.Length; at += Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Block, source.Length - at);
            source.Read(at, count, planar);
            meter.Take(planar, count);
            for (var c = 0; c < channels; c++)
            {
                Fill(planar[c].AsSpan(0, count), finest, (int)(at / FinestStretch), c, channels);
            }
        }

        return new PeakPyramid(channels, source.Length, Upwards(finest, channels), meter.Result(source.Length));
    }

    public void Write(Stream output)
    {
        Span<byte> head = stackalloc byte[HeaderBytes];
        BinaryPrimitives.WriteUInt32LittleEndian(head, Magic);
        BinaryPrimitives.WriteInt32LittleEndian(head[4..], Channels);
        BinaryPrimitives.WriteInt64LittleEndian(head[8..], Frames);
        BinaryPrimitives.WriteInt64LittleEndian(head[16..], Sound.FirstSound);
        BinaryPrimitives.WriteInt64LittleEndian(head[24..], Sound.EndOfSound);
        BinaryPrimitives.WriteDoubleLittleEndian(head[32..], Sound.Peak);
        BinaryPrimitives.WriteInt32LittleEndian(head[40..], Sound.ChannelsEqual ? 1 : 0);
        BinaryPrimitives.WriteInt32LittleEndian(head[44..], Sound.ClippedRuns);
        BinaryPrimitives.WriteInt32LittleEndian(head[48..], Levels);
        output.Write(head);
        foreach (var level in _levels)
        {
            output.Write(System.Runtime.InteropServices.MemoryMarshal.AsBytes<short>(level));
        }
    }

    /// <summary>Reads what was measured, without the levels.</summary>
    /// <exception cref="BadInputException">It is not a peak file of this version.</exception>
    public static MediaSound ReadSound(Stream input, string file) => ReadHead(input, file).Sound;

    /// <exception cref="BadInputException">It is not a peak file of this version.</exception>
    public static PeakPyramid Read(Stream input, string file)
    {
        var (channels, frames, sound, count) = ReadHead(input, file);
        var levels = new short[count][];
        var stretches = (frames + FinestStretch - 1) / FinestStretch;
        for (var i = 0; i < count; i++)
        {
            levels[i] = new short[(int)stretches * channels * 2];
            input.ReadExactly(System.Runtime.InteropServices.MemoryMarshal.AsBytes(levels[i].AsSpan()));
            stretches = (stretches + Factor - 1) / Factor;
        }

        return new PeakPyramid(channels, frames, levels, sound);
    }

    private static (int Channels, long Frames, MediaSound Sound, int Levels) ReadHead(Stream input, string file)
    {
        Span<byte> head = stackalloc byte[HeaderBytes];
        if (input.ReadAtLeast(head, HeaderBytes, throwOnEndOfStream: false) < HeaderBytes || BinaryPrimitives.ReadUInt32LittleEndian(head) != Magic)
        {
            throw new BadInputException(file, 0, "This is not a peak file.", "It is made again when the media is measured.");
        }

        var sound = new MediaSound(
            BinaryPrimitives.ReadInt64LittleEndian(head[16..]), BinaryPrimitives.ReadInt64LittleEndian(head[24..]),
            BinaryPrimitives.ReadDoubleLittleEndian(head[32..]), BinaryPrimitives.ReadInt32LittleEndian(head[40..]) == 1,
            BinaryPrimitives.ReadInt32LittleEndian(head[44..]));
        return (BinaryPrimitives.ReadInt32LittleEndian(head[4..]), BinaryPrimitives.ReadInt64LittleEndian(head[8..]), sound, BinaryPrimitives.ReadInt32LittleEndian(head[48..]));
    }

    private static void Fill(ReadOnlySpan<double> samples, short[] level, int stretch, int channel, int channels)
    {
        for (var at = 0; at < samples.Length; at += FinestStretch, stretch++)
        {
            var piece = samples.Slice(at, Math.Min(FinestStretch, samples.Length - at));
            var (low, high) = (piece[0], piece[0]);
            foreach (var value in piece)
            {
                low = Math.Min(low, value);
                high = Math.Max(high, value);
            }

            var place = ((stretch * channels) + channel) * 2;
            level[place] = Scale(low);
            level[place + 1] = Scale(high);
        }
    }

    private static short Scale(double value) => (short)Math.Clamp(Math.Round(value * 32767), -32767, 32767);

    private static short[][] Upwards(short[] finest, int channels)
    {
        var levels = new List<short[]> { finest };
        var pair = channels * 2;
        while (levels[^1].Length > pair * 64)
        {
            var below = levels[^1];
            var count = ((below.Length / pair) + Factor - 1) / Factor;
            var level = new short[count * pair];
            for (var s = 0; s < count; s++)
            {
                for (var v = 0; v < pair; v++)
                {
                    level[(s * pair) + v] = Extreme(below, (s * Factor * pair) + v, pair, v % 2 == 0);
                }
            }

            levels.Add(level);
        }

        return levels.ToArray();
    }

    private static short Extreme(short[] below, int at, int pair, bool least)
    {
        var value = below[at];
        for (var k = 1; k < Factor && at + (k * pair) < below.Length; k++)
        {
            value = least ? Math.Min(value, below[at + (k * pair)]) : Math.Max(value, below[at + (k * pair)]);
        }

        return value;
    }
}
