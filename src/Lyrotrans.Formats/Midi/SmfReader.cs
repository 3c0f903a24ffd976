using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Midi;

/// <summary>
/// Reads Standard MIDI Files (RP-001) of type 0, 1 and 2 with any division. What can be read is read; what is broken is a
/// finding: a track that is cut, stray chunks, bytes after the end, a track count that lies. Ticks stay as they are.
/// </summary>
/// <remarks>docs/formats/midi.md, sections 1 and 2.</remarks>
public sealed class SmfReader
{
    /// <summary>Larger files are refused; no sensible MIDI file comes near.</summary>
    public const int LargestFile = 64 << 20;

    /// <summary>The most events; each costs memory many times its bytes.</summary>
    public const int MostEvents = 1 << 23;

    private readonly byte[] _bytes;
    private readonly string _file;
    private readonly FindingList _findings = [];
    private int _at;
    private int _events;

    private SmfReader(byte[] bytes, string file)
    {
        _bytes = bytes;
        _file = file;
    }

    /// <exception cref="BadInputException">Not a MIDI file, too large, or without a whole header.</exception>
    public static SmfFile Read(Stream stream, string file)
    {
        if (stream.Length > LargestFile)
        {
            throw new BadInputException(FileCodes.TooLarge, file, string.Empty, $"It is {stream.Length} bytes, more than any MIDI file.", "Check what it is.");
        }

        var bytes = new byte[stream.Length];
        stream.Position = 0;
        stream.ReadExactly(bytes);
        return new SmfReader(bytes, file).Read();
    }

    private SmfFile Read()
    {
        // A RIFF wrapper holds the file from byte 20 on.
        if (_bytes.Length > 20 && Id(0) == "RIFF" && Id(8) == "RMID")
        {
            _at = 20;
        }

        if (_bytes.Length - _at < 14 || Id(_at) != "MThd" || Size(_at + 4) < 6)
        {
            throw new BadInputException(MidiCodes.NotMidi, _file, _at, "This is not a MIDI file: it has no MThd header.", "Check what it is.");
        }

        int type = BinaryPrimitives.ReadUInt16BigEndian(_bytes.AsSpan(_at + 8));
        int claimed = BinaryPrimitives.ReadUInt16BigEndian(_bytes.AsSpan(_at + 10));
        var division = BinaryPrimitives.ReadInt16BigEndian(_bytes.AsSpan(_at + 12));
        if (division == 0 || type > 2)
        {
            throw new BadInputException(MidiCodes.BadHeader, _file, _at + 8, $"The header says type {type} and a division of {division}.", "The file is damaged; export it again.");
        }

        _at = (int)Math.Min(_bytes.Length, _at + 8L + Size(_at + 4));
        var tracks = ReadTracks(claimed);
        if (tracks.Count != claimed)
        {
            _findings.Add(MidiCodes.TrackCount, string.Empty, $"The header says {claimed} tracks, the file has {tracks.Count}.");
        }

        return new SmfFile
        {
            Type = type,
            TicksPerQuarter = division > 0 ? division : 0,
            FramesPerSecond = division < 0 ? -(division >> 8) : 0,
            TicksPerFrame = division < 0 ? division & 0xFF : 0,
            Tracks = tracks.ToValueArray(),
            Findings = _findings.ToValueArray(),
        };
    }

    private List<SmfTrack> ReadTracks(int claimed)
    {
        var tracks = new List<SmfTrack>();
        while (_bytes.Length - _at >= 8 && (tracks.Count < claimed || Id(_at) == "MTrk"))
        {
            var id = Id(_at);
            var size = Size(_at + 4);
            var start = _at + 8;
            var end = (int)Math.Min(_bytes.Length, start + (long)size);
            if (id == "MTrk")
            {
                if (start + (long)size > _bytes.Length)
                {
                    _findings.Add(MidiCodes.TrackCut, $"track {tracks.Count + 1}", $"The file ends inside track {tracks.Count + 1}; what came before that was read.");
                }

                _at = start;
                tracks.Add(ReadTrack(end, tracks.Count + 1));
            }
            else if (id.All(c => c is >= ' ' and <= '~'))
            {
                _findings.Add(MidiCodes.UnknownChunk, $"byte {_at}", $"Unknown chunk {id} at byte {_at} was left out.");
            }
            else
            {
                break;
            }

            _at = end;
        }

        if (_at < _bytes.Length)
        {
            _findings.Add(MidiCodes.DataAfterEnd, $"byte {_at}", $"{_bytes.Length - _at} bytes of data after the end at byte {_at} were left out.");
        }

        return tracks;
    }

    private SmfTrack ReadTrack(int end, int number)
    {
        var events = new List<SmfEvent>();
        var tick = 0L;
        byte running = 0;
        while (_at < end)
        {
            var place = _at;
            if (!TryNumber(end, out var delta))
            {
                _findings.Add(MidiCodes.BadEvent, $"byte {place}", $"Track {number} ends inside a time at byte {place}.");
                return new SmfTrack(events.ToValueArray(), tick);
            }

            tick += delta;
            if (!TryEvent(end, tick, ref running, out var next))
            {
                _findings.Add(MidiCodes.BadEvent, $"byte {place}", $"Track {number}: the event at byte {place} is cut or not MIDI; the rest of the track was left out.");
                return new SmfTrack(events.ToValueArray(), tick);
            }

            if (next.IsMeta && next.Meta == SmfMeta.EndOfTrack)
            {
                if (_at < end)
                {
                    _findings.Add(MidiCodes.DataAfterEnd, $"track {number}", $"Track {number} has {end - _at} bytes after its end; they were left out.");
                }

                return new SmfTrack(events.ToValueArray(), tick);
            }

            events.Add(next);
            if (++_events > MostEvents)
            {
                throw new BadInputException(FileCodes.TooLarge, _file, $"track {number}", $"It has more than {MostEvents} events.", "Check what it is.");
            }
        }

        _findings.Add(MidiCodes.NoEnd, $"track {number}", $"Track {number} has no end-of-track event.");
        return new SmfTrack(events.ToValueArray(), tick);
    }

    private bool TryEvent(int end, long tick, ref byte running, out SmfEvent next)
    {
        next = default;
        if (_at >= end)
        {
            return false;
        }

        var status = _bytes[_at];
        if (status < 0x80)
        {
            if (running == 0)
            {
                return false;
            }

            status = running;
        }
        else
        {
            _at++;
        }

        switch (status)
        {
            case SmfEvent.MetaStatus:
                if (_at >= end)
                {
                    return false;
                }

                var meta = _bytes[_at++];
                return TryData(end, out var text) && Made(new SmfEvent(tick, status, meta, text), out next);
            case 0xF0 or 0xF7:
                running = 0;
                return TryData(end, out var bytes) && Made(new SmfEvent(tick, status, 0, bytes), out next);
            case >= 0xF0:
                return false;
            default:
                running = status;
                var count = (status & 0xF0) is 0xC0 or 0xD0 ? 1 : 2;
                if (end - _at < count || _bytes.AsSpan(_at, count).ContainsAnyInRange((byte)0x80, (byte)0xFF))
                {
                    return false;
                }

                _at += count;
                return Made(new SmfEvent(tick, status, 0, ValueArray.Create<byte>(_bytes.AsSpan(_at - count, count))), out next);
        }
    }

    private static bool Made(SmfEvent value, out SmfEvent next)
    {
        next = value;
        return true;
    }

    private bool TryData(int end, out ValueArray<byte> data)
    {
        data = default;
        if (!TryNumber(end, out var size) || size > end - _at)
        {
            return false;
        }

        data = ValueArray.Create<byte>(_bytes.AsSpan(_at, (int)size));
        _at += (int)size;
        return true;
    }

    private bool TryNumber(int end, out long value)
    {
        value = 0;
        for (var i = 0; i < 4; i++)
        {
            if (_at >= end)
            {
                return false;
            }

            var next = _bytes[_at++];
            value = (value << 7) | (uint)(next & 0x7F);
            if (next < 0x80)
            {
                return true;
            }
        }

        return false;
    }

    private string Id(int at) => Encoding.Latin1.GetString(_bytes, at, 4);

    private uint Size(int at) => BinaryPrimitives.ReadUInt32BigEndian(_bytes.AsSpan(at));
}
