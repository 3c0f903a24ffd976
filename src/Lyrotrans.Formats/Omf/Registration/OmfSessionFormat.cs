using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Omf.Writing;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Omf.Registration;

/// <summary>OMF as one of the session formats: versions 1 and 2 are read, 2.1 is written, for readers that know nothing newer.</summary>
public sealed class OmfSessionFormat : IClipFormat
{
    private const string FourGiB = "4 GiB";
    private const string ByTracks = "split by tracks";

    // Many readers take offsets for numbers with a sign; the format itself does not.
    private static readonly FormatOption s_limit = new(
        "limit", "limit", [new FormatOptionValue("2 GiB", "2 GiB, safe", "2 GiB"), new FormatOptionValue(FourGiB, "4 GiB, the most", FourGiB)], "limit");

    private static readonly FormatOption s_overLimit = new(
        "overLimit", "over it", [new FormatOptionValue("not built", "not built", "false"), new FormatOptionValue(ByTracks, ByTracks, "true")], "splitByTracks");

    /// <summary>What the format is and can hold.</summary>
    public static ClipFormat Holds { get; } = new()
    {
        Id = "OMF",
        Extension = ".omf",
        Media = [ClipMediaForm.InsideWave, ClipMediaForm.InsideAiff, ClipMediaForm.BesideWave, ClipMediaForm.BesideAiff],
        Fades = [FadeForm.Transitions, FadeForm.Properties, FadeForm.Rendered],
        Transitions = TransitionShapes.OneLevel,
        Markers = Held.No,
        ClipNotes = Held.No,
        Picture = Held.No,
        IsVolumeStraightInAmplitude = true,
        HasAsciiNames = true,
        Depths = [SampleEncoding.Integer16, SampleEncoding.Integer24],
        MediaId = identity => OmfId.Of("file source mob", identity),
        IsMediaId = OmfId.Is,
        FileBytes = 12_000,
        ClipBytes = 1_400,
        Options = [s_limit, s_overLimit],
        MostBytes = chosen => (chosen[s_limit] == FourGiB ? uint.MaxValue : (long)int.MaxValue) - 1,
        Splits = chosen => chosen[s_overLimit] == ByTracks,
    };

    public string Id => Holds.Id;

    public string Extension => Holds.Extension;

    public IReadOnlyList<string> FormerIds => ["Omf"];

    public ClipFormat Clips => Holds;

    // It has no head of its own: its label is at the end, and what it begins with is the first value that was written, which may be a whole sound file.
    public bool Is(ReadOnlySpan<byte> head, Stream stream) => OmfDocument.Is(stream);

    public ISessionDocument Open(Stream stream, string name) => OmfDocument.Open(stream, name);

    public void Write(ClipFile file, Stream output) => OmfWriter.Write(
        file.Session, file.Essence, new OmfForm { EditRate = file.EditRate, Comments = file.Comments, FadesAsProperties = file.Choices.FadesAs == FadeForm.Properties }, output);
}
