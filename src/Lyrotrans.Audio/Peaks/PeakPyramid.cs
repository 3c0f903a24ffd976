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
    /// <summary>Samples to a pair of the finest level.</summary>
    public const int FinestStretch = 256;

    /// <summary>Pairs of a level that one of the next coarser level stands for.</summary>
    public const int Factor = 4;
    private const uint Magic = 0x314B504C;
    private const int HeaderBytes = 56;
    private const int SideMeasured = 2;
    private readonly short[][] _levels;

    internal PeakPyramid(int channels, long frames, short[][] levels, MediaSound sound)
    {
        Channels = channels;
        Frames = frames;
        _levels = levels;
        Sound = sound;
    }

    /// <summary>How many channels were measured.</summary>
    public int Channels { get; }

    /// <summary>How many sample frames were measured.</summary>
    public long Frames { get; }

    /// <summary>How many levels there are; 0 is the finest.</summary>
    public int Levels => _levels.Length;

    /// <summary>What else was measured on the way.</summary>
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

    /// <summary>Reads a source once, to its end.</summary>
    /// <param name="source">What is measured.</param>
    /// <param name="stop">Stops it between two blocks.</param>
    public static PeakPyramid Measure(ISampleSource source, CancellationToken stop)
    {
        var builder = new PeakBuilder(source.Channels, source.Length);
        source.Each(PeakBuilder.Block, builder.Take, stop);
        return builder.Result();
    }

    /// <summary>Writes what <see cref="Read"/> reads.</summary>
    public void Write(Stream output)
    {
        Span<byte> head = stackalloc byte[HeaderBytes];
        BinaryPrimitives.WriteUInt32LittleEndian(head, Magic);
        BinaryPrimitives.WriteInt32LittleEndian(head[4..], Channels);
        BinaryPrimitives.WriteInt64LittleEndian(head[8..], Frames);
        BinaryPrimitives.WriteInt64LittleEndian(head[16..], Sound.FirstSound);
        BinaryPrimitives.WriteInt64LittleEndian(head[24..], Sound.EndOfSound);
        BinaryPrimitives.WriteDoubleLittleEndian(head[32..], Sound.Peak);
        BinaryPrimitives.WriteInt32LittleEndian(head[40..], SideMeasured);
        BinaryPrimitives.WriteInt32LittleEndian(head[44..], Sound.ClippedRuns);
        BinaryPrimitives.WriteInt32LittleEndian(head[48..], Levels);
        BinaryPrimitives.WriteSingleLittleEndian(head[52..], (float)(Sound.SideDb ?? double.NaN));
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

    // Peak files of before the difference was measured say only whether channels are the same to the bit.
    private static double? SideDb(ReadOnlySpan<byte> head) => BinaryPrimitives.ReadInt32LittleEndian(head[40..]) switch
    {
        SideMeasured => BinaryPrimitives.ReadSingleLittleEndian(head[52..]) is var side && float.IsNaN(side) ? null : side,
        1 => double.NegativeInfinity,
        _ => null,
    };

    private static (int Channels, long Frames, MediaSound Sound, int Levels) ReadHead(Stream input, string file)
    {
        Span<byte> head = stackalloc byte[HeaderBytes];
        if (input.ReadAtLeast(head, HeaderBytes, throwOnEndOfStream: false) < HeaderBytes || BinaryPrimitives.ReadUInt32LittleEndian(head) != Magic)
        {
            throw new BadInputException(PeakCodes.NotPeaks, file, 0, "This is not a peak file.", "It is made again when the media is measured.");
        }

        var sound = new MediaSound(
            BinaryPrimitives.ReadInt64LittleEndian(head[16..]), BinaryPrimitives.ReadInt64LittleEndian(head[24..]),
            BinaryPrimitives.ReadDoubleLittleEndian(head[32..]), SideDb(head),
            BinaryPrimitives.ReadInt32LittleEndian(head[44..]));
        return (BinaryPrimitives.ReadInt32LittleEndian(head[4..]), BinaryPrimitives.ReadInt64LittleEndian(head[8..]), sound, BinaryPrimitives.ReadInt32LittleEndian(head[48..]));
    }
}
