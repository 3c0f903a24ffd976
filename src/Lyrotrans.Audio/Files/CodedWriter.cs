using Lyrotrans.Audio.Native;
using Lyrotrans.Decoder;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Files;

/// <summary>Writes a FLAC, Ogg or MP3 file with libsndfile.</summary>
public sealed class CodedWriter : IDisposable
{
    private readonly nint _file;
    private readonly int _channels;
    private readonly CodedForm _form;
    private readonly PcmEncoder _encoder;
    private int[] _integers = [];
    private double[] _doubles = [];
    private bool _finished;

    /// <param name="path">A new file on disk.</param>
    /// <param name="form">Its format.</param>
    /// <param name="rate">Whole samples a second; for MP3 one that <see cref="Holds"/> says yes to.</param>
    /// <param name="channels">1 … 8; for Ogg and MP3 one or two.</param>
    /// <param name="encoding">For FLAC: integer, 16 or 24 bits.</param>
    /// <param name="dither">For FLAC: what is added where bits are lost.</param>
    /// <param name="comment">For the file's comment; says where it starts, since these formats have no time stamp.</param>
    /// <param name="kilobits">For Ogg on average and MP3 always: kbit/s, 96 to 320; null is the usual one, and where MP3 has no such rate for a rate of samples the nearest is taken.</param>
    /// <exception cref="IOException">It cannot be written.</exception>
    public CodedWriter(string path, CodedForm form, SampleRate rate, int channels, SampleEncoding encoding, Dither dither, string comment, int? kilobits = null)
    {
        var info = new SndFile.Info
        {
            SampleRate = rate.HeaderHz,
            Channels = channels,
            Format = form switch
            {
                CodedForm.Ogg => SndFile.FormatOgg | SndFile.Vorbis,
                CodedForm.Mp3 => SndFile.FormatMpeg | SndFile.Layer3,
                _ => SndFile.FormatFlac | (encoding == SampleEncoding.Integer16 ? SndFile.Pcm16 : SndFile.Pcm24),
            },
        };
        _file = NativeCall.Of("libsndfile", SndFile.Package, () => SndFile.Open(path, SndFile.Write, ref info));
        if (_file == 0)
        {
            throw new IOException($"{path} cannot be written as {form}: {SndFile.Error(0)}");
        }

        // About 190 kbit/s of Vorbis and 256 of MP3 for stereo: plain listening, never for going on.
        if (form == CodedForm.Mp3 && kilobits is { } constant)
        {
            SndFile.SetConstantRate(_file, constant, rate.HeaderHz);
        }
        else
        {
            SndFile.SetQuality(_file, form == CodedForm.Mp3 ? 0.15 : OggQuality(kilobits, channels));
        }

        SndFile.SetString(_file, SndFile.CommentString, comment);
        _channels = channels;
        _form = form;
        _encoder = new PcmEncoder(encoding, dither);
    }

    // What the codec's own table of nominal bit rates says of stereo at 44.1 and 48 kHz; one channel takes a little more than half.
    private static double OggQuality(int? kilobits, int channels)
    {
        (int Kilobits, double Quality)[] table = [(64, 0), (80, 0.1), (96, 0.2), (112, 0.3), (128, 0.4), (160, 0.5), (192, 0.6), (224, 0.7), (256, 0.8), (320, 0.9), (500, 1)];
        var wanted = Math.Clamp((kilobits ?? 192) * (channels == 1 && kilobits is not null ? 2 : 1), 64, 500);
        var above = Array.FindIndex(table, t => t.Kilobits >= wanted);
        return above == 0 ? 0 : table[above - 1].Quality + ((wanted - table[above - 1].Kilobits) / (double)(table[above].Kilobits - table[above - 1].Kilobits) * (table[above].Quality - table[above - 1].Quality));
    }

    /// <summary>Whether a format can have a rate: MP3 32, 44.1 and 48 kHz and their halves and quarters.</summary>
    public static bool Holds(CodedForm form, SampleRate rate) => form != CodedForm.Mp3 || rate.HeaderHz is 8000 or 11_025 or 12_000 or 16_000 or 22_050 or 24_000 or 32_000 or 44_100 or 48_000;

    /// <summary>Samples so far that were above full scale and were held at it.</summary>
    public long Overs => _encoder.Overs;

    /// <exception cref="IOException">The disk is full or the file cannot be written.</exception>
    public void Write(double[][] samples, int count)
    {
        if ((_form == CodedForm.Flac ? WriteIntegers(samples, count) : WriteDoubles(samples, count)) != count)
        {
            throw new IOException($"A {_form} file could not be written: {SndFile.Error(_file)}");
        }
    }

    /// <summary>Writes what is still held and closes the file.</summary>
    /// <exception cref="IOException">The disk is full or the file cannot be written.</exception>
    public void Finish()
    {
        _finished = true;
        if (SndFile.Close(_file) != 0)
        {
            throw new IOException($"A {_form} file could not be finished; the disk may be full.");
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

    private long WriteIntegers(double[][] samples, int count)
    {
        if (_integers.Length < count * _channels)
        {
            _integers = new int[count * _channels];
        }

        _encoder.LeftJustified(samples, _channels, count, _integers);
        return SndFile.WriteIntegers(_file, _integers, count);
    }

    private long WriteDoubles(double[][] samples, int count)
    {
        if (_doubles.Length < count * _channels)
        {
            _doubles = new double[count * _channels];
        }

        for (var c = 0; c < _channels; c++)
        {
            for (int i = 0, at = c; i < count; i++, at += _channels)
            {
                _doubles[at] = samples[c][i];
            }
        }

        return SndFile.WriteDoubles(_file, _doubles, count);
    }
}
