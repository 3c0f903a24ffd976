using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.ClipFormats;

/// <summary>
/// What a format of clips is, and what it can hold. The planner, the carry plan, the screens and the proof ask this and nothing else; each format says its own in
/// its own folder. Two are equal when their identifiers are.
/// </summary>
public sealed record ClipFormat
{
    /// <summary>In documents and for people, such as in "12 clips in …".</summary>
    public required string Id { get; init; }

    /// <summary>Of its files, with the dot, in lower case.</summary>
    public required string Extension { get; init; }

    /// <summary>Where the sound may lie, the usual place first.</summary>
    public required ValueArray<ClipMediaForm> Media { get; init; }

    /// <summary>How fades may go, the usual way first.</summary>
    public required ValueArray<FadeForm> Fades { get; init; }

    /// <summary>Which shapes a fade that goes as a transition keeps.</summary>
    public required TransitionShapes Transitions { get; init; }

    /// <summary>Whether the gain of clips goes as gain.</summary>
    public Held ClipGain { get; init; } = Held.Yes;

    /// <summary>The fader and its automation.</summary>
    public Held Volume { get; init; } = Held.Yes;

    /// <summary>Whether pan goes as a parameter of tracks.</summary>
    public Held Pan { get; init; } = Held.Yes;

    /// <summary>Whether markers go along.</summary>
    public Held Markers { get; init; } = Held.Yes;

    /// <summary>The reference picture, by its name and place.</summary>
    public Held Picture { get; init; } = Held.Yes;

    /// <summary>Tempo, meters, keys and the place of bar 1.</summary>
    public Held Music { get; init; }

    /// <summary>Notes to clips.</summary>
    public Held ClipNotes { get; init; } = Held.Yes;

    /// <summary>Notes to tracks.</summary>
    public Held TrackNotes { get; init; }

    /// <summary>Tracks that make no sound of files: notes, buses, returns and the master.</summary>
    public Held OtherTracks { get; init; }

    /// <summary>Volume runs straight in amplitude from point to point, and not straight in dB as in a session.</summary>
    public bool IsVolumeStraightInAmplitude { get; init; }

    /// <summary>Names are in ASCII only.</summary>
    public bool HasAsciiNames { get; init; }

    /// <summary>How samples may be stored; what is not among these goes as 24 bits.</summary>
    public ValueArray<SampleEncoding> Depths { get; init; } = [SampleEncoding.Integer16, SampleEncoding.Integer24, SampleEncoding.Integer32, SampleEncoding.Float32];

    /// <summary>The identifier of a medium that stands for something; the same identity gives the same.</summary>
    public required Func<string, string> MediaId { get; init; }

    /// <summary>Whether an identifier can be that of a medium as it is.</summary>
    public required Func<string, bool> IsMediaId { get; init; }

    /// <summary>What a file takes without its clips and sound, in bytes: measured on our own files, and rounded up.</summary>
    public required long FileBytes { get; init; }

    /// <summary>What a clip takes, in bytes; never too little.</summary>
    public required long ClipBytes { get; init; }

    /// <summary>Choices that only this format has.</summary>
    public ValueArray<FormatOption> Options { get; init; }

    /// <summary>The largest file in bytes, as was chosen; null where there is no limit.</summary>
    public Func<FormatChoices, long?> MostBytes { get; init; } = _ => null;

    /// <summary>Whether a session that is too large for one file goes as several, with some of the tracks each.</summary>
    public Func<FormatChoices, bool> Splits { get; init; } = _ => false;

    /// <summary>Where the sound lies when a place was chosen that the format may not have: the first that has the same kind of file.</summary>
    public ClipMediaForm MediaFor(ClipMediaForm chosen) => Media.Contains(chosen) ? chosen : Media.First(m => m.IsAiff() == chosen.IsAiff());

    /// <summary>How fades go when a way was chosen that the format may not have: the usual one then.</summary>
    public FadeForm FadesFor(FadeForm chosen) => Fades.Contains(chosen) ? chosen : Fades[0];

    public bool Equals(ClipFormat? other) => other?.Id == Id;

    public override int GetHashCode() => Id.GetHashCode(StringComparison.Ordinal);

    public override string ToString() => Id;
}
