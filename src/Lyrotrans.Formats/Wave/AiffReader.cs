using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Wave;

/// <summary>Reads the chunks of AIFF 1.3 and AIFF-C files with linear samples (compression NONE, twos, sowt, in24, in32, fl32, fl64).</summary>
/// <remarks>docs/formats/sound.md, sections 1, 2 and 3.</remarks>
public sealed class AiffReader
{
    private readonly BoundedReader _reader;
    private readonly FindingList _findings = [];
    private readonly List<KeyValuePair<string, string>> _info = [];
    private readonly List<CuePoint> _cues = [];
    private (SampleEncoding Encoding, bool BigEndian, int Channels, SampleRate Rate, long Frames)? _common;
    private (long Offset, long Size)? _sound;

    private AiffReader(Stream stream, string file) => _reader = new BoundedReader(stream, file);

    /// <exception cref="BadInputException">Not an AIFF file, cut inside its header, without format or sound, or compressed.</exception>
    public static SoundHeader Read(Stream stream, string file) => new AiffReader(stream, file).Read();

    private SoundHeader Read()
    {
        _reader.Position = 0;
        var form = Encoding.Latin1.GetString(_reader.Bytes(4, "the first four bytes"));
        _reader.UInt32(true, "the FORM size");
        var type = Encoding.Latin1.GetString(_reader.Bytes(4, "the form type"));
        if (form != "FORM" || type is not ("AIFF" or "AIFC"))
        {
            throw new BadInputException(SoundCodes.WrongForm, _reader.File, 0, $"This is not an AIFF file; it begins with \"{form}\".", "Check what it is.");
        }

        while (_reader.Remaining >= 8)
        {
            ReadChunk(type == "AIFC");
        }

        return Header(type);
    }

    private void ReadChunk(bool compressedForm)
    {
        var start = _reader.Position;
        var id = Encoding.Latin1.GetString(_reader.Bytes(4, "a chunk's name"));
        long size = _reader.UInt32(true, $"the size of chunk {id}");
        var body = _reader.Position;
        var there = _reader.Length - body;
        if (size > there)
        {
            if (id != "SSND")
            {
                throw new BadInputException(SoundCodes.ChunkCut, _reader.File, start, $"Chunk {id} says {size} bytes, and only {there} follow.", "The file was cut short; ask for it again.");
            }

            _findings.Add(SoundCodes.SizeDiffers, string.Empty, $"The header says {size} bytes of sound and the file holds {there}; what is there was taken.");
            size = there;
        }

        switch (id)
        {
            case "COMM" when size is >= 18 and < 1024:
                _common = Common(_reader.Bytes((int)size, "chunk COMM"), compressedForm, body);
                break;
            case "SSND" when size >= 8:
                var offset = _reader.UInt32(true, "the offset of the sound");
                _sound = (body + 8 + offset, size - 8 - offset);
                break;
            case "NAME" or "AUTH" or "ANNO" or "(c) " when size < 65_536:
                _info.Add(new(id, TextGuess.Decode(_reader.Bytes((int)size, $"chunk {id}"))));
                break;
            case "ID3 " or "id3 " when size < (1 << 24):
                _info.AddRange(Id3Tag.Read(_reader.Bytes((int)size, $"chunk {id}")));
                break;
            case "MARK" when size is >= 2 and < (1 << 20):
                Markers(_reader.Bytes((int)size, "chunk MARK"));
                break;
            default:
                break;
        }

        _reader.Position = Math.Min(_reader.Length, body + size + (size & 1));
    }

    private (SampleEncoding, bool, int, SampleRate, long) Common(byte[] b, bool compressedForm, long at)
    {
        int channels = BinaryPrimitives.ReadUInt16BigEndian(b);
        long frames = BinaryPrimitives.ReadUInt32BigEndian(b.AsSpan(2));
        int bits = BinaryPrimitives.ReadUInt16BigEndian(b.AsSpan(6));
        var kind = compressedForm && b.Length >= 22 ? Encoding.Latin1.GetString(b, 18, 4) : "NONE";
        SampleEncoding? encoding = kind switch
        {
            "NONE" or "twos" or "sowt" or "in24" or "in32" => ((bits + 7) / 8) switch
            {
                1 => SampleEncoding.Signed8,
                2 => SampleEncoding.Integer16,
                3 => SampleEncoding.Integer24,
                4 => SampleEncoding.Integer32,
                _ => null,
            },
            "fl32" or "FL32" => SampleEncoding.Float32,
            "fl64" or "FL64" => SampleEncoding.Float64,
            _ => throw new BadInputException(SoundCodes.NotPcm, _reader.File, at, $"Its sound is coded ({kind.Trim()}), not linear PCM.", "Export it as PCM AIFF, WAVE or FLAC."),
        };
        var hz = Extended80(b.AsSpan(8));
        if (channels == 0 || encoding is null || !(hz is >= 1 and <= 10_000_000))
        {
            throw new BadInputException(SoundCodes.BadFormat, _reader.File, at, $"The format says {channels} channels of {bits} bits at {hz} Hz, which is not possible.", "The header is damaged; export the file again.");
        }

        return (encoding.Value, kind != "sowt", channels, new SampleRate(Rational.FromDouble(hz, 1000)), frames);
    }

    // IEEE 754 80-bit extended: sign and 15-bit exponent, then a 64-bit mantissa with its leading 1 written out.
    private static double Extended80(ReadOnlySpan<byte> b)
    {
        var exponent = BinaryPrimitives.ReadUInt16BigEndian(b) & 0x7FFF;
        var mantissa = BinaryPrimitives.ReadUInt64BigEndian(b[2..]);
        return mantissa * Math.Pow(2, exponent - 16383 - 63);
    }

    private void Markers(byte[] b)
    {
        var at = 2;
        for (var left = BinaryPrimitives.ReadUInt16BigEndian(b); left > 0 && at + 7 <= b.Length; left--)
        {
            var id = BinaryPrimitives.ReadUInt16BigEndian(b.AsSpan(at));
            var sample = BinaryPrimitives.ReadUInt32BigEndian(b.AsSpan(at + 2));
            int count = b[at + 6];
            if (at + 7 + count > b.Length)
            {
                _findings.Add(SoundCodes.ListCut, "marker list", "The marker list ends inside a name.");
                return;
            }

            _cues.Add(new CuePoint(id, sample, TextGuess.Decode(b.AsSpan(at + 7, count))));
            at += 7 + count + ((count + 1) & 1);
        }
    }

    private SoundHeader Header(string container)
    {
        if (_common is not { } common)
        {
            throw new BadInputException(SoundCodes.NoFormat, _reader.File, 12, "There is no COMM chunk.", "The file is damaged; export it again.");
        }

        if (_sound is not { } sound || sound.Size < 0)
        {
            throw new BadInputException(SoundCodes.NoData, _reader.File, _reader.Length, "There is no sound in it: no SSND chunk.", "Export it again.");
        }

        var frameBytes = common.Encoding.Bytes() * common.Channels;
        var there = Math.Max(0, Math.Min(sound.Size, _reader.Length - sound.Offset)) / frameBytes;
        if (there < common.Frames)
        {
            _findings.Add(SoundCodes.SizeDiffers, string.Empty, $"The header says {common.Frames} samples and the file holds {there}.");
        }

        return new SoundHeader
        {
            Container = container,
            Layout = new PcmLayout(common.Encoding, common.BigEndian, common.Channels, common.Rate, sound.Offset, Math.Min(there, common.Frames)),
            Info = _info.ToValueArray(),
            Cues = _cues.OrderBy(c => c.Sample).ToValueArray(),
            Findings = _findings.ToValueArray(),
        };
    }
}
