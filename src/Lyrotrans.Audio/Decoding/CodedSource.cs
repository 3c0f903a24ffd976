using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Decoder;

namespace Lyrotrans.Audio.Decoding;

/// <summary>A FLAC, Ogg or MP3 file, decoded by libsndfile in a process of its own. FLAC comes through exactly.</summary>
public sealed class CodedSource : ISampleSource
{
    // More than is mostly asked for at once, so that questions cost little beside their answers.
    private const int Ahead = 1 << 15;

    // Twelve hours of stereo at 48 kHz, of which a quarter of a gigabyte is measured. Beyond that, sound takes bytes: at the lowest rates in use one for some 8 samples.
    private const long MostSamples = 1L << 32;
    private const long MostSamplesOfAByte = 16;

    // The emptiest FLAC has 65 535 sample frames in 11 bytes, the emptiest packets of Vorbis and Opus fewer for a byte, MP3 far fewer.
    private const long MostFramesOfAByte = 8192;

    // Places that could not be decoded one after the other before the rest is looked at, and how many places of the rest.
    private const int BrokenPlaces = 64;
    private const int Probes = 16;
    private readonly string _path;
    private readonly string _name;
    private readonly CodedFacts _facts;
    private DecodedFile? _file;
    private float[] _decoded = [];
    private long _first;
    private int _frames;
    private bool _broke;
    private int _brokenPlaces;
    private long _decodable;

    private CodedSource(string path, string name)
    {
        (_path, _name) = (path, name);
        _facts = Try(file => file.Facts);
        _decodable = _facts.Frames;
    }

    public int Channels => _facts.Channels;

    public long Length => _facts.Frames;

    public SampleRate Rate => SampleRate.FromHz(_facts.Hz);

    /// <summary>Sample frames that were asked for so far and could not be decoded; silence was given for them.</summary>
    public long Missing { get; private set; }

    /// <summary>Depth of the coded samples; lossy codecs decode to float.</summary>
    public SampleEncoding Encoding => (_facts.Format & 0xFFFF) switch
    {
        SndFile.Pcm16 => SampleEncoding.Integer16,
        SndFile.Pcm24 => SampleEncoding.Integer24,
        1 => SampleEncoding.Signed8,
        _ => SampleEncoding.Float32,
    };

    /// <param name="path">On disk; it must stay there until this is disposed.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">The library cannot read it, breaks down at it, or takes too long.</exception>
    public static CodedSource Open(string path, string name) => new(Path.GetFullPath(path), name);

    /// <exception cref="BadInputException">The library breaks down at it, or takes too long.</exception>
    public void Read(long start, int count, double[][] into)
    {
        for (var c = 0; c < Channels; c++)
        {
            into[c].AsSpan(0, count).Clear();
        }

        var at = Math.Clamp(start, 0, Length);
        var end = Math.Clamp(start + count, at, Length);
        while (at < Math.Min(end, _decodable))
        {
            if (at < _first || at >= _first + _frames)
            {
                // Behind a broken place it goes on with what is asked for next.
                if (_broke && at == _first + _frames && at > start)
                {
                    break;
                }

                Fetch(at, (int)Math.Min(Math.Max(Ahead, end - at), Length - at));
                if (_frames == 0)
                {
                    break;
                }
            }

            var taken = (int)(Math.Min(end, _first + _frames) - at);
            Copy(at, taken, into, (int)(at - start));
            at += taken;
        }

        Missing += end - at;
    }

    public void Dispose()
    {
        _file?.Process.Close(_file);
        _file = null;
    }

    private void Fetch(long first, int most)
    {
        var frames = Math.Min(most, DecoderProcess.MostSamples / Channels);
        if (_decoded.Length < frames * Channels)
        {
            _decoded = new float[frames * Channels];
        }

        _frames = Try(file => file.Process.Read(file, first, frames, _decoded));
        (_first, _broke) = (first, _frames < frames);
        _brokenPlaces = _frames > 0 ? 0 : _brokenPlaces + 1;
        if (_brokenPlaces == BrokenPlaces && Enumerable.Range(1, Probes).All(n => IsBroken(first + ((Length - 1 - first) * n / Probes))))
        {
            // It ends here, whatever its header says: asking for the rest block by block could take hours.
            _decodable = first;
        }
    }

    private bool IsBroken(long place) => Try(file => file.Process.Read(file, place, 1, _decoded)) == 0;

    private void Copy(long at, int count, double[][] into, int place)
    {
        for (var c = 0; c < Channels; c++)
        {
            var output = into[c].AsSpan(place, count);
            var from = ((int)(at - _first) * Channels) + c;
            for (var i = 0; i < count; i++, from += Channels)
            {
                output[i] = _decoded[from];
            }
        }
    }

    // A decoder that ended at another file is replaced; one that ends at this file twice did so because of it.
    private T Try<T>(Func<DecodedFile, T> ask)
    {
        for (var failed = 0; ;)
        {
            try
            {
                _file ??= Opened();
                return ask(_file);
            }
            catch (DecoderGoneException gone)
            {
                _file = null;
                failed += gone.Why == DecoderEnd.Before ? 0 : 1;
                if (failed > 1 || gone.Why == DecoderEnd.TooLong)
                {
                    throw NotDecoded(gone.Why == DecoderEnd.TooLong ? "decoding it takes too long" : "the decoder breaks down at it");
                }
            }
        }
    }

    private DecodedFile Opened()
    {
        var (file, problem) = DecoderPool.Take().Open(_path);
        if (file is null)
        {
            throw NotDecoded(problem.TrimEnd('.'));
        }

        if (Impossible(file.Facts) is { } why)
        {
            file.Process.Close(file);
            throw NotDecoded(why);
        }

        return file;
    }

    // What a header says is counted before anything is made as long as it says.
    private string? Impossible(CodedFacts facts)
    {
        var bytes = new FileInfo(_path).Length;
        var most = Math.Max(MostSamples, bytes * MostSamplesOfAByte);
        return facts.Channels <= 0 || facts.Channels > DecoderProcess.MostSamples || facts.Frames < 0 ? $"it says {facts.Frames} sample frames of {facts.Channels} channels"
            : !SampleRate.IsPossible(facts.Hz) ? $"it says a rate of {facts.Hz} Hz"
            : facts.Frames > bytes * MostFramesOfAByte ? $"it says {facts.Frames} sample frames, which {bytes} bytes cannot hold"
            : facts.Frames > most / facts.Channels ? $"it says {facts.Frames} sample frames of {facts.Channels} channels; a compressed file of {bytes} bytes may hold {most} samples"
            : _facts.Channels > 0 && facts != _facts ? "it says one thing now and another then"
            : null;
    }

    private BadInputException NotDecoded(string why) => new(DecodingCodes.NotDecoded, _name, string.Empty, $"It cannot be decoded: {why}.", "Export it again, as WAVE, AIFF or FLAC.");
}
