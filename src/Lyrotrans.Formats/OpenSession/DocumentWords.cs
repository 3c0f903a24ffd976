using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Formats.OpenSession;

/// <summary>The words that the open session document uses for the model's choices.</summary>
public static class DocumentWords
{
    /// <summary>How samples are stored.</summary>
    public static IReadOnlyDictionary<string, SampleEncoding> Encodings { get; } = new Dictionary<string, SampleEncoding>
    {
        ["unsigned 8"] = SampleEncoding.Unsigned8,
        ["integer 8"] = SampleEncoding.Signed8,
        ["integer 16"] = SampleEncoding.Integer16,
        ["integer 24"] = SampleEncoding.Integer24,
        ["integer 32"] = SampleEncoding.Integer32,
        ["float 32"] = SampleEncoding.Float32,
        ["float 64"] = SampleEncoding.Float64,
    };

    /// <summary>Where a medium was found.</summary>
    public static IReadOnlyDictionary<string, MediaPlace> Places { get; } = Lower<MediaPlace>();

    /// <summary>What a print has in it.</summary>
    public static IReadOnlyDictionary<string, PrintHolds> Holds { get; } = Lower<PrintHolds>();

    /// <summary>What a track is.</summary>
    public static IReadOnlyDictionary<string, TrackKind> Kinds { get; } = Enum.GetValues<TrackKind>().ToDictionary(k => k.Words());

    /// <summary>Whether a track sounds.</summary>
    public static IReadOnlyDictionary<string, TrackState> States { get; } = new Dictionary<string, TrackState>
    {
        ["active"] = TrackState.Active,
        ["muted"] = TrackState.Muted,
        ["hidden"] = TrackState.Hidden,

        // The document's word, since its first version.
        ["inactive"] = TrackState.SwitchedOff,
    };

    /// <summary>How values go from point to point.</summary>
    public static IReadOnlyDictionary<string, Interpolation> Interpolations { get; } = Lower<Interpolation>();

    /// <summary>The pan law by the level in the centre.</summary>
    public static IReadOnlyDictionary<string, PanLaw> PanLaws { get; } = new Dictionary<string, PanLaw>
    {
        ["-3 dB"] = PanLaw.Minus3,
        ["0 dB"] = PanLaw.Zero,
        ["-4.5 dB"] = PanLaw.Minus4Point5,
        ["-6 dB"] = PanLaw.Minus6,
    };

    /// <summary>How a fade goes.</summary>
    public static IReadOnlyDictionary<string, FadeShape> Shapes { get; } = new Dictionary<string, FadeShape>
    {
        ["linear"] = FadeShape.Linear,
        ["equal power"] = FadeShape.EqualPower,
        ["s"] = FadeShape.S,
        ["exponential"] = FadeShape.Exponential,
        ["logarithmic"] = FadeShape.Logarithmic,
        ["sampled"] = FadeShape.Sampled,
    };

    /// <summary>What a controller event changes.</summary>
    public static IReadOnlyDictionary<string, NoteControlKind> Controls { get; } = new Dictionary<string, NoteControlKind>
    {
        ["controller"] = NoteControlKind.Controller,
        ["program"] = NoteControlKind.Program,
        ["pitch bend"] = NoteControlKind.PitchBend,
        ["channel pressure"] = NoteControlKind.ChannelPressure,
        ["poly pressure"] = NoteControlKind.PolyPressure,
        ["system exclusive"] = NoteControlKind.SystemExclusive,
        ["meta"] = NoteControlKind.Meta,
    };

    /// <summary>The word for a value.</summary>
    public static string Of<T>(IReadOnlyDictionary<string, T> words, T value)
        where T : struct, Enum => words.First(w => EqualityComparer<T>.Default.Equals(w.Value, value)).Key;

    private static Dictionary<string, T> Lower<T>()
        where T : struct, Enum => Enum.GetValues<T>().ToDictionary(v => v.ToString().ToLowerInvariant());
}
