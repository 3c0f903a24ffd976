using Lyrotrans.Audio.Native;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Files;

/// <summary>Writes a FLAC file with libsndfile, 16 or 24 bits.</summary>
public sealed class FlacWriter : IDisposable
{
    private readonly nint _file;
    private readonly int _channels;
    private readonly PcmEncoder _encoder;
    private int[] _buffer = [];
    private bool _finished;

    /// <param name="path">A new file on disk.</param>
    /// <param name="rate">Whole samples a second.</param>
    /// <param name="channels">1 … 8.</param>
    /// <param name="encoding">Integer, 16 or 24 bits.</param>
    /// <param name="dither">Whether bits are lost that were there.</param>
    /// <param name="comment">For the file's comment; says where it starts, since FLAC has no time stamp of its own.</param>
    public FlacWriter(string path, SampleRate rate, int channels, SampleEncoding encoding, bool dither, string comment)
    {
        var info = new SndFile.Info
        {
            SampleRate = rate.HeaderHz,
            Channels = channels,
            Format = SndFile.FormatFlac | (encoding == SampleEncoding.Integer16 ? SndFile.Pcm16 : SndFile.Pcm24),
        };
        _file = NativeCall.Of("libsndfile", SndFile.Package, () => SndFile.Open(path, SndFile.Write, ref info));
        if (_file == 0)
        {
            throw new IOException($"{path} cannot be written as FLAC: {SndFile.Error(0)}");
        }

        SndFile.SetString(_file, SndFile.CommentString, comment);
        _channels = channels;
        _encoder = new PcmEncoder(encoding, dither);
    }

    public long Overs => _encoder.Overs;

    /// <exception cref="IOException">The disk is full or the file cannot be written.</exception>
    public void Write(double[][] samples, int count)
    {
        if (_buffer.Length < count * _channels)
        {
            _buffer = new int[count * _channels];
        }

        for (int i = 0, at = 0; i < count; i++)
        {
            for (var c = 0; c < _channels; c++)
            {
                _buffer[at++] = _encoder.LeftJustified(samples[c][i]);
            }
        }

        if (SndFile.WriteIntegers(_file, _buffer, count) != count)
        {
            throw new IOException($"A FLAC file could not be written: {SndFile.Error(_file)}");
        }
    }

    /// <summary>Writes what is still held and closes the file.</summary>
    /// <exception cref="IOException">The disk is full or the file cannot be written.</exception>
    public void Finish()
    {
        _finished = true;
        if (SndFile.Close(_file) != 0)
        {
            throw new IOException("A FLAC file could not be finished; the disk may be full.");
        }
    }

    public void Dispose()
    {
        if (!_finished)
        {
            _finished = true;
            _ = SndFile.Close(_file);
        }
    }
}
