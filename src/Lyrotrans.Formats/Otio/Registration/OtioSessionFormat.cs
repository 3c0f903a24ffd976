using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.Otio.Writing;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Otio.Registration;

/// <summary>OTIO as one of the session formats: open JSON of picture editors and pipelines, whose media always lie beside it.</summary>
public sealed class OtioSessionFormat : IClipFormat
{
    /// <summary>What the format is and can hold.</summary>
    public static ClipFormat Holds { get; } = new()
    {
        Id = "OTIO",
        Extension = ".otio",
        Media = [ClipMediaForm.BesideWave, ClipMediaForm.BesideAiff],
        Fades = [FadeForm.Transitions, FadeForm.Rendered],
        Transitions = TransitionShapes.LengthOnly,
        ClipGain = Held.InMetadata,
        Volume = Held.InMetadata,
        Pan = Held.InMetadata,
        Music = Held.InMetadata,
        ClipNotes = Held.InMetadata,
        TrackNotes = Held.InMetadata,
        OtherTracks = Held.InMetadata,
        MediaId = identity => MobId.Of("file source mob", identity),
        IsMediaId = MobId.Is,
        FileBytes = 4_000,
        ClipBytes = 2_400,
    };

    public string Id => Holds.Id;

    public string Extension => Holds.Extension;

    public IReadOnlyList<string> FormerIds => ["Otio"];

    public ClipFormat Clips => Holds;

    public bool Is(ReadOnlySpan<byte> head, Stream stream) => JsonHead.Has(head, "OTIO_SCHEMA");

    public ISessionDocument Open(Stream stream, string name) => OtioDocument.Open(stream, name);

    public void Write(ClipFile file, Stream output) => OtioWriter.Write(file.Session, file.Essence, new OtioForm { EditRate = file.EditRate, Comments = file.Comments }, output);
}
