using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Wave;

/// <summary>
/// Reads the chunks of RIFF/WAVE, RF64 and BW64 (ITU-R BS.2088, EBU Tech 3306). Sizes are checked against the file before
/// anything is read by them; a data size that lies is put right from the file's length, with a finding.
/// </summary>
/// <remarks>docs/formats/sound.md, sections 1, 2, 3 and 4.</remarks>
public sealed class WaveReader
{
    private const int LargestTextChunk = 16 << 20;
    private static readonly byte[] s_extensibleTail = [0x00, 0x00, 0x00, 0x00, 0x10, 0x00, 0x80, 0x00, 0x00, 0xAA, 0x00, 0x38, 0x9B, 0x71];
    private readonly BoundedReader _reader;
    private readonly FindingList _findings = [];
    private readonly List<KeyValuePair<string, string>> _info = [];
    // Of an entry for a span, before its text: cue, length, purpose, country, language, dialect and code page.
    private const int SpanBytes = 20;
    private readonly Dictionary<uint, long> _cues = [];
    private readonly Dictionary<uint, uint> _spans = [];
    private readonly Dictionary<uint, string> _labels = [];
    private (SampleEncoding Encoding, int Channels, uint Rate, int Align, uint BytesPerSecond)? _format;
    private (long Offset, long Size)? _data;
    private long? _data64;
    private long? _fact;
    private BroadcastExtension? _broadcast;
    private byte[] _ixml = [];

    private WaveReader(Stream stream, string file) => _reader = new BoundedReader(stream, file);

    /// <exception cref="BadInputException">Not a WAVE file, cut inside its header, without format or data, or of a codec that is not linear PCM.</exception>
    public static SoundHeader Read(Stream stream, string file) => new WaveReader(stream, file).Read();

    private SoundHeader Read()
    {
        _reader.Position = 0;
        var form = Encoding.Latin1.GetString(_reader.Bytes(4, "the first four bytes"));
        _reader.UInt32(false, "the RIFF size");
        var type = Encoding.Latin1.GetString(_reader.Bytes(4, "the form type"));
        if (form is not ("RIFF" or "RF64" or "BW64") || type != "WAVE")
        {
            throw new BadInputException(SoundCodes.WrongForm, _reader.File, 0, $"This is not a WAVE file; it begins with \"{form}\".", "Check what it is.");
        }

        while (_data is null || _reader.Remaining >= 8)
        {
            if (_reader.Remaining < 8)
            {
                break;
            }

            ReadChunk(form != "RIFF");
        }

        return Header(form == "RIFF" ? "WAVE" : form);
    }

    private void ReadChunk(bool has64)
    {
        var start = _reader.Position;
        var id = Encoding.Latin1.GetString(_reader.Bytes(4, "a chunk's name"));
        long size = _reader.UInt32(false, $"the size of chunk {id}");
        var body = _reader.Position;
        if (id == "data")
        {
            size = DataSize(body, size, has64);
        }
        else if (size > _reader.Length - body)
        {
            if (_data is not null)
            {
                _findings.Add(SoundCodes.ChunkLeftOut, $"byte {start}", $"Chunk {id} at byte {start} says {size} bytes and the file ends after {_reader.Length - body}; it was left out.");
                _reader.Position = _reader.Length;
                return;
            }

            throw new BadInputException(SoundCodes.ChunkCut, _reader.File, start, $"Chunk {id} says {size} bytes, and only {_reader.Length - body} follow.", "The file was cut short; ask for it again.");
        }

        ReadBody(id, body, size);
        _reader.Position = Math.Min(_reader.Length, body + size + (size & 1));
    }

    private long DataSize(long body, long size, bool has64)
    {
        if (has64 && _data64 is { } large && size == uint.MaxValue)
        {
            size = large;
        }

        var there = _reader.Length - body;
        if (size > there)
        {
            _findings.Add(SoundCodes.SizeDiffers, string.Empty, $"The header says {size} bytes of sound and the file holds {there}; what is there was taken.");
            return there;
        }

        // Recorders that were stopped hard leave a size of zero before the sound.
        if (size == 0 && there > 0 && !ChunkFollows())
        {
            _findings.Add(SoundCodes.SizeDiffers, string.Empty, $"The header says no sound and {there} bytes follow; they were taken as sound.");
            return there;
        }

        return size;
    }

    private bool ChunkFollows()
    {
        var at = _reader.Position;
        var looks = _reader.Remaining >= 8 && Array.TrueForAll(_reader.Bytes(4, "a chunk's name"), b => b is >= 0x20 and < 0x7F)
            && _reader.UInt32(false, "a chunk's size") <= _reader.Remaining;
        _reader.Position = at;
        return looks;
    }

    private void ReadBody(string id, long body, long size)
    {
        switch (id)
        {
            case "data" when _data is null:
                _data = (body, size);
                break;
            case "fmt " when _format is null:
                _format = ReadFormat(Take(id, size), body);
                break;
            case "ds64" when size >= 24:
                _data64 = Clamp64(BinaryPrimitives.ReadUInt64LittleEndian(Take(id, size).AsSpan(8)));
                break;
            case "fact" when size >= 4:
                _fact = BinaryPrimitives.ReadUInt32LittleEndian(Take(id, size));
                break;
            case "bext" when size >= 602:
                _broadcast = ReadBroadcast(Take(id, size));
                break;
            case "iXML":
                _ixml = Take(id, size);
                break;
            case "id3 " or "ID3 ":
                _info.AddRange(Id3Tag.Read(Take(id, size)));
                break;
            case "cue " when size >= 4:
                ReadCues(Take(id, size));
                break;
            case "LIST" when size >= 4:
                ReadList(Take(id, size));
                break;
            default:
                break;
        }
    }

    private byte[] Take(string id, long size)
    {
        if (size > LargestTextChunk)
        {
            throw new BadInputException(FileCodes.TooLarge, _reader.File, _reader.Position, $"Chunk {id} is {size} bytes, more than any sensible one.", "Check where the file came from.");
        }

        return _reader.Bytes((int)size, $"chunk {id}");
    }

    private (SampleEncoding Encoding, int Channels, uint Rate, int Align, uint BytesPerSecond) ReadFormat(byte[] bytes, long at)
    {
        if (bytes.Length < 16)
        {
            throw new BadInputException(SoundCodes.BadFormat, _reader.File, at, $"The format chunk has {bytes.Length} bytes and needs 16.", "The file is damaged; ask for it again.");
        }

        int tag = BinaryPrimitives.ReadUInt16LittleEndian(bytes);
        var channels = BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(2));
        var rate = BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(4));
        var align = BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(12));
        int bits = BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(14));
        if (tag == 0xFFFE && bytes.Length >= 40)
        {
            tag = bytes.AsSpan(26, 14).SequenceEqual(s_extensibleTail) ? BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(24)) : -1;
        }

        if (tag is not (1 or 3))
        {
            throw new BadInputException(SoundCodes.NotPcm, _reader.File, at, $"Its sound is coded ({CodecName(tag)}), not linear PCM.", "Export it as PCM WAVE, AIFF or FLAC.");
        }

        // 20 bits in 3 bytes and the like: the container decides, the sample is left-justified in it.
        var container = channels > 0 && align % channels == 0 ? align / channels * 8 : bits;
        var encoding = SampleEncodings.FromBits(container, tag == 3);
        if (channels == 0 || rate == 0 || encoding is null || container < bits)
        {
            throw new BadInputException(
                SoundCodes.BadFormat, _reader.File, at, $"The format says {channels} channels of {bits} bits in {align} bytes at {rate} Hz, which is not possible.", "The header is damaged; export the file again.");
        }

        return (encoding.Value, channels, rate, align, BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(8)));
    }

    private static string CodecName(int tag) => tag switch
    {
        2 => "Microsoft ADPCM, tag 0x0002",
        6 => "A-law, tag 0x0006",
        7 => "µ-law, tag 0x0007",
        0x11 => "IMA ADPCM, tag 0x0011",
        0x50 => "MPEG, tag 0x0050",
        0x55 => "MPEG layer 3, tag 0x0055",
        _ => $"unknown codec, tag 0x{tag & 0xFFFF:X4}",
    };

    private static BroadcastExtension ReadBroadcast(byte[] b) => new(
        Text(b, 0, 256),
        Text(b, 256, 32),
        Clamp64(BinaryPrimitives.ReadUInt64LittleEndian(b.AsSpan(338))),
        Text(b, 320, 10),
        Text(b, 330, 8),
        Text(b, 288, 32),
        Text(b, 602, b.Length - 602),
        b.AsSpan(348, 32).ContainsAnyExcept((byte)0) ? Convert.ToHexStringLower(b.AsSpan(348, 32)) : null);

    private void ReadCues(byte[] bytes)
    {
        var count = Math.Min(BinaryPrimitives.ReadUInt32LittleEndian(bytes), (uint)(bytes.Length - 4) / 24);
        for (var i = 0; i < count; i++)
        {
            var point = bytes.AsSpan(4 + (i * 24));
            _cues[BinaryPrimitives.ReadUInt32LittleEndian(point)] = BinaryPrimitives.ReadUInt32LittleEndian(point[20..]);
        }
    }

    private void ReadList(byte[] bytes)
    {
        var type = Encoding.Latin1.GetString(bytes, 0, 4);
        for (var at = 4; at + 8 <= bytes.Length;)
        {
            var id = Encoding.Latin1.GetString(bytes, at, 4);
            long size = BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(at + 4));
            at += 8;
            if (size > bytes.Length - at)
            {
                _findings.Add(SoundCodes.ListCut, $"{type} list", $"Entry {id} of the {type} list says {size} bytes and the list ends after {bytes.Length - at}.");
                return;
            }

            if (type == "INFO")
            {
                _info.Add(new(id, Text(bytes, at, (int)size)));
            }
            else if (type == "adtl" && id == "labl" && size >= 4)
            {
                _labels[BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(at))] = Text(bytes, at + 4, (int)size - 4);
            }
            else if (type == "adtl" && id == "ltxt" && size >= SpanBytes)
            {
                ReadSpan(bytes, at, (int)size);
            }

            at += (int)(size + (size & 1));
        }
    }

    // A span has a length; what it is called may stand here or with its label.
    private void ReadSpan(byte[] bytes, int at, int size)
    {
        var cue = BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(at));
        _spans[cue] = BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(at + 4));
        if (Text(bytes, at + SpanBytes, size - SpanBytes) is { Length: > 0 } text)
        {
            _labels.TryAdd(cue, text);
        }
    }

    private SoundHeader Header(string container)
    {
        if (_format is not { } format)
        {
            throw new BadInputException(SoundCodes.NoFormat, _reader.File, 12, "There is no format chunk.", "The file is damaged; export it again.");
        }

        if (_data is not { } data)
        {
            throw new BadInputException(SoundCodes.NoData, _reader.File, _reader.Length, "There is no sound in it: no data chunk.", "Export it again.");
        }

        var frameBytes = format.Encoding.Bytes() * format.Channels;
        if (data.Size % frameBytes != 0)
        {
            _findings.Add(SoundCodes.PartSample, string.Empty, $"The sound ends inside a sample; {data.Size % frameBytes} bytes at its end were left out.");
        }

        if (format.Rate > 10_000_000)
        {
            throw new BadInputException(SoundCodes.BadFormat, _reader.File, 0, $"A rate of {format.Rate} Hz is not possible.", "The header is damaged; export the file again.");
        }

        var ixml = IxmlWords.Read(_ixml);
        return new SoundHeader
        {
            Container = container,
            Layout = new PcmLayout(format.Encoding, false, format.Channels, SampleRate.FromHz(format.Rate), data.Offset, data.Size / frameBytes),
            Broadcast = _broadcast,
            Info = _info.ToValueArray(),
            Cues = _cues.OrderBy(c => c.Value).Select(c => new CuePoint(c.Key, c.Value, _labels.GetValueOrDefault(c.Key, string.Empty), _spans.GetValueOrDefault(c.Key))).ToValueArray(),
            Ixml = _ixml.ToValueArray(),
            Umid = _broadcast?.Umid ?? ixml.Umid,
            ChannelNames = ChannelNames.Together(ixml.Channels, ChannelNames.Of(_broadcast?.Description ?? string.Empty), format.Channels),
            FactSamples = _fact,
            RateWords = Wave.RateWords.Of(_broadcast, ixml, format.BytesPerSecond, format.Align).Where(w => w.Rate.PerSecond != format.Rate).ToValueArray(),
            Findings = _findings.ToValueArray(),
        };
    }

    private static long Clamp64(ulong value) => value > long.MaxValue ? long.MaxValue : (long)value;

    private static string Text(byte[] bytes, int at, int count) => TextGuess.Decode(bytes.AsSpan(at, count));
}
