using System.Buffers.Binary;
using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Registry.Tests.Lantern;

/// <summary>
/// A made-up format, to show that this folder and one registration are all that a new one needs. It holds clips and, other than those that there are, tempo and notes of its own: a word,
/// the length of a JSON object (comments and the session), that object, and for each medium inside its identifier and its sound as a WAVE file, each with its length before it.
/// </summary>
public sealed class LanternFormat : IClipFormat
{
    internal static readonly byte[] Word = "LANTERN1"u8.ToArray();

    private static readonly FormatOption s_flame = new("flame", "flame", [new FormatOptionValue("steady", "steady"), new FormatOptionValue("flickering", "flickering, as seen from far")]);

    public static ClipFormat Holds { get; } = new()
    {
        Id = "LANTERN",
        Extension = ".lantern",
        Media = [ClipMediaForm.InsideWave, ClipMediaForm.BesideWave],
        Fades = [FadeForm.Transitions, FadeForm.Rendered],
        Transitions = TransitionShapes.ByNameOrPoints,
        Music = Held.Yes,
        OtherTracks = Held.Yes,
        MediaId = identity => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(identity))),
        IsMediaId = _ => false,
        FileBytes = 4_000,
        ClipBytes = 1_000,
        Options = [s_flame],
    };

    public string Id => Holds.Id;

    public string Extension => Holds.Extension;

    public IReadOnlyList<string> FormerIds => [];

    public ClipFormat Clips => Holds;

    public bool Is(ReadOnlySpan<byte> head, Stream stream) => head.StartsWith(Word);

    public ISessionDocument Open(Stream stream, string name) => LanternDocument.Open(stream, name);

    public void Write(ClipFile file, Stream output)
    {
        output.Write(Word);
        Chunk(output, Record(file));
        foreach (var essence in file.Session.Media.Select(m => file.Essence[m.Id]).Where(e => e.BesidePath is null && !e.IsMissing))
        {
            Chunk(output, Encoding.UTF8.GetBytes(essence.MediaId));
            Length(output, essence.Bytes);
            essence.Write(output);
        }
    }

    private static byte[] Record(ClipFile file)
    {
        using var bytes = new MemoryStream();
        using (var json = new Utf8JsonWriter(bytes))
        {
            json.WriteStartObject();
            json.WriteString("flame", file.Choices.Options[s_flame]);
            json.WriteStartObject("comments");
            foreach (var (comment, text) in file.Comments)
            {
                json.WriteString(comment, text);
            }

            json.WriteEndObject();
            json.WritePropertyName("session");
            json.WriteRawValue(SessionDocumentWriter.Write(file.Session));
            json.WriteEndObject();
        }

        return bytes.ToArray();
    }

    private static void Chunk(Stream output, byte[] bytes)
    {
        Length(output, bytes.Length);
        output.Write(bytes);
    }

    private static void Length(Stream output, long length)
    {
        Span<byte> bytes = stackalloc byte[8];
        BinaryPrimitives.WriteInt64LittleEndian(bytes, length);
        output.Write(bytes);
    }

    // The one line of the registry, in a place that runs before anything asks it.
    [ModuleInitializer]
    internal static void Register() => SessionFormats.Add(new LanternFormat());
}
