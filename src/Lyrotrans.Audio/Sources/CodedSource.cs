using Lyrotrans.Audio.Native;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Sources;

/// <summary>A FLAC, Ogg or MP3 file, decoded by libsndfile. FLAC comes through exactly.</summary>
public sealed class CodedSource : ISampleSource
{
    private readonly nint _file;
    private readonly SndFile.Info _info;
    private double[] _buffer = [];
    private long _position;

    private CodedSource(nint file, SndFile.Info info)
    {
        _file = file;
        _info = info;
    }

    public int Channels => _info.Channels;

    public long Length => _info.Frames;

    public SampleRate Rate => SampleRate.FromHz(_info.SampleRate);

    /// <summary>Sample frames that were asked for so far and could not be decoded; silence was given for them.</summary>
    public long Missing { get; private set; }

    /// <summary>Depth of the coded samples; lossy codecs decode to float.</summary>
    public SampleEncoding Encoding => (_info.Format & 0xFFFF) switch
    {
        SndFile.Pcm16 => SampleEncoding.Integer16,
        SndFile.Pcm24 => SampleEncoding.Integer24,
        1 => SampleEncoding.Signed8,
        _ => SampleEncoding.Float32,
    };

    /// <param name="path">On disk.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">The library cannot read it.</exception>
    public static CodedSource Open(string path, string name)
    {
        var info = default(SndFile.Info);
        var file = NativeCall.Of("libsndfile", SndFile.Package, () => SndFile.Open(path, SndFile.Read, ref info));
        if (file == 0)
        {
            throw new BadInputException(DecodingCodes.NotDecoded, name, string.Empty, $"It cannot be decoded: {SndFile.Error(0).TrimEnd('.')}.", "Export it again, as WAVE, AIFF or FLAC.");
        }

        return new CodedSource(file, info);
    }

    public void Read(long start, int count, double[][] into)
    {
        for (var c = 0; c < Channels; c++)
        {
            into[c].AsSpan(0, count).Clear();
        }

        var first = Math.Clamp(start, 0, Length);
        var frames = (int)(Math.Clamp(start + count, first, Length) - first);
        if (frames == 0)
        {
            return;
        }

        if (_position != first)
        {
            SndFile.Seek(_file, first, 0);
        }

        if (_buffer.Length < frames * Channels)
        {
            _buffer = new double[frames * Channels];
        }

        var read = (int)SndFile.ReadDoubles(_file, _buffer, frames);
        _position = first + read;
        Missing += frames - read;
        for (var c = 0; c < Channels; c++)
        {
            var output = into[c].AsSpan((int)(first - start));
            for (var i = 0; i < read; i++)
            {
                output[i] = _buffer[(i * Channels) + c];
            }
        }
    }

    public void Dispose() => _ = SndFile.Close(_file);
}
