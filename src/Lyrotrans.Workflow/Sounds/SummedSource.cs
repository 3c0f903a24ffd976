using System.Buffers.Binary;
using System.Security.Cryptography;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Flac;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>A decoded FLAC file whose samples are summed on the way, read once from beginning to end; then <see cref="IsWhole"/> says whether they are what the file says of itself.</summary>
/// <param name="source">The decoded sound; not closed with this.</param>
/// <param name="info">What the file says.</param>
internal sealed class SummedSource(ISampleSource source, FlacInfo info) : ISampleSource
{
    private readonly IncrementalHash _sum = IncrementalHash.CreateHash(HashAlgorithmName.MD5);
    private readonly double _fullScale = Math.Pow(2, info.Bits - 1);
    private readonly int _width = (info.Bits + 7) / 8;
    private byte[] _bytes = [];
    private long _position;

    public int Channels => source.Channels;

    public long Length => source.Length;

    public SampleRate Rate => source.Rate;

    /// <summary>Whether a file says a sum that can be compared here: of 8, 16 or 24 bits, which the decoder gives as they are.</summary>
    public static bool CanSum(FlacInfo info) => info.Md5.Count > 0 && info.Bits is 8 or 16 or 24;

    /// <summary>Whether everything was read, and is what the file says.</summary>
    public bool IsWhole() => _position == Length && _sum.GetHashAndReset().AsSpan().SequenceEqual(info.Md5.AsSpan());

    public void Read(long start, int count, double[][] into)
    {
        source.Read(start, count, into);
        var frames = (int)Math.Clamp(Length - start, 0, count);
        if (start == _position)
        {
            Sum(into, frames);
            _position += frames;
        }
    }

    public void Dispose() => _sum.Dispose();

    private void Sum(double[][] planar, int frames)
    {
        var bytes = frames * Channels * _width;
        if (_bytes.Length < bytes + sizeof(int))
        {
            _bytes = new byte[bytes + sizeof(int)];
        }

        var at = 0;
        for (var i = 0; i < frames; i++)
        {
            for (var c = 0; c < Channels; c++)
            {
                // Four bytes are written; the next sample covers those beyond the width.
                BinaryPrimitives.WriteInt32LittleEndian(_bytes.AsSpan(at), (int)Math.Round(planar[c][i] * _fullScale));
                at += _width;
            }
        }

        _sum.AppendData(_bytes.AsSpan(0, bytes));
    }
}
