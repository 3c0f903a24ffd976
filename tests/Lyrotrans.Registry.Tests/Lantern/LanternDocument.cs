using System.Buffers.Binary;
using System.Text;
using System.Text.Json;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Registry.Tests.Lantern;

/// <summary>A document of the made-up format.</summary>
internal sealed class LanternDocument : ISessionDocument
{
    private const long LargestRecord = 64L << 20;
    private readonly ReadSession _read;
    private readonly Dictionary<string, (long Start, long Length)> _sounds;
    private readonly Stream _stream;

    private LanternDocument(ReadSession read, Dictionary<string, (long, long)> sounds, Stream stream)
    {
        _read = read;
        _sounds = sounds;
        _stream = stream;
    }

    public IReadOnlyList<string> Compositions => [_read.Session.Name];

    public static LanternDocument Open(Stream stream, string name)
    {
        stream.Position = 0;
        if (!Bytes(stream, LanternFormat.Word.Length, name).AsSpan().SequenceEqual(LanternFormat.Word))
        {
            throw new BadInputException(FileCodes.UnknownContent, name, 0, "It does not begin as a lantern does.", "Check what it is.");
        }

        var record = Bytes(stream, Length(stream, LargestRecord, name), name);
        var sounds = new Dictionary<string, (long, long)>();
        while (stream.Position < stream.Length)
        {
            var id = Encoding.UTF8.GetString(Bytes(stream, Length(stream, 1000, name), name));
            var length = Length(stream, stream.Length - stream.Position - 8, name);
            sounds[id] = (stream.Position, length);
            stream.Position += length;
        }

        return new LanternDocument(Session(record, name, sounds), sounds, stream);
    }

    public ReadSession ReadSession(string? composition = null) => _read;

    public Stream? OpenEssence(string id)
    {
        if (!_sounds.TryGetValue(id, out var place))
        {
            return null;
        }

        _stream.Position = place.Start;
        return new MemoryStream(Bytes(_stream, place.Length, id));
    }

    private static ReadSession Session(byte[] record, string name, Dictionary<string, (long, long)> sounds)
    {
        try
        {
            using var json = JsonDocument.Parse(record);
            if (!json.RootElement.TryGetProperty("session", out var whole) || !json.RootElement.TryGetProperty("comments", out var comments) || comments.ValueKind != JsonValueKind.Object)
            {
                throw new BadInputException(FileCodes.UnknownContent, name, string.Empty, "Its record is not whole.", "Write it again.");
            }

            var session = SessionDocumentReader.Read(whole, name);
            var words = comments.EnumerateObject().Where(c => c.Value.ValueKind == JsonValueKind.String).GroupBy(c => c.Name).ToDictionary(c => c.Key, c => c.Last().Value.GetString()!);
            return new ReadSession(session, [], session.Media.DistinctBy(m => m.Id).ToDictionary(m => m.Id, m => Described(m, sounds.ContainsKey(m.Id))), words);
        }
        catch (JsonException)
        {
            throw new BadInputException(FileCodes.UnknownContent, name, string.Empty, "Its record is not whole JSON.", "Write it again.");
        }
    }

    private static DocumentMedia Described(Media media, bool inside) => new()
    {
        Id = media.Id,
        FileName = media.FileName,
        Rate = media.Rate,
        Channels = media.Channels,
        Bits = media.Encoding.Bits(),
        IsFloat = media.Encoding.IsFloat(),
        Length = media.Length,
        How = inside ? "embedded-wave" : "linked",
    };

    private static long Length(Stream stream, long most, string name)
    {
        var at = stream.Position;
        var length = BinaryPrimitives.ReadInt64LittleEndian(Bytes(stream, 8, name));
        return length >= 0 && length <= most ? length : throw new BadInputException(FileCodes.UnknownContent, name, at, $"A part of {length} bytes cannot be here.", "Write it again.");
    }

    private static byte[] Bytes(Stream stream, long count, string name)
    {
        var at = stream.Position;
        if (count > stream.Length - at)
        {
            throw new BadInputException(FileCodes.UnknownContent, name, at, "The file ends too early.", "Ask for it again.");
        }

        var bytes = new byte[count];
        stream.ReadExactly(bytes);
        return bytes;
    }
}
