using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Formats.Aaf.Writing;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Aaf.Registration;

/// <summary>AAF as one of the session formats.</summary>
public sealed class AafSessionFormat : IClipFormat
{
    // Older readers take no other sectors than those of 512 bytes.
    private static readonly FormatOption s_sectors = new(
        "sectors", "sectors", [new FormatOptionValue("4096", "4096 bytes", "false"), new FormatOptionValue("512", "512 bytes, older readers", "true")], "smallSectors");

    /// <summary>What the format is and can hold.</summary>
    public static ClipFormat Holds { get; } = new()
    {
        Id = "AAF",
        Extension = ".aaf",
        Media = [ClipMediaForm.InsideWave, ClipMediaForm.InsideSamples, ClipMediaForm.InsideAiff, ClipMediaForm.BesideWave, ClipMediaForm.BesideAiff],
        Fades = [FadeForm.Transitions, FadeForm.Properties, FadeForm.Rendered],
        Transitions = TransitionShapes.ByNameOrPoints,
        MediaId = identity => MobId.Of("file source mob", identity),
        IsMediaId = MobId.Is,
        FileBytes = 420_000,
        ClipBytes = 700,
        Options = [s_sectors],
    };

    public string Id => Holds.Id;

    public string Extension => Holds.Extension;

    public IReadOnlyList<string> FormerIds => ["CompoundFile"];

    public ClipFormat Clips => Holds;

    // The container's head; what it holds is known when it is opened.
    public bool Is(ReadOnlySpan<byte> head, Stream stream) => head is [0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1, ..];

    public ISessionDocument Open(Stream stream, string name) => AafDocument.Open(stream, name);

    public void Write(ClipFile file, Stream output) => AafWriter.Write(
        file.Session,
        file.Essence,
        new AafForm
        {
            SectorBytes = file.Choices.Options[s_sectors] == "512" ? 512 : 4096,
            EditRate = file.EditRate,
            Comments = file.Comments,
            FadesAsProperties = file.Choices.FadesAs == FadeForm.Properties,
        },
        output);
}
