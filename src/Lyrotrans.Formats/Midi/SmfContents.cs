using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Midi;

/// <summary>What the events of a MIDI file mean: tempo, meters, keys, texts for the whole file, and notes for each track.</summary>
/// <remarks>docs/formats/midi.md, section 3.</remarks>
public sealed record SmfContents
{
    private const int MostTexts = 20;

    /// <summary>Tick and microseconds per quarter note, ascending.</summary>
    public ValueArray<(long Tick, int Microseconds)> Tempos { get; init; }

    /// <summary>Tick, beats, beat unit.</summary>
    public ValueArray<(long Tick, int Beats, int BeatUnit)> Meters { get; init; }

    /// <summary>Tick, sharps (flats below zero), minor.</summary>
    public ValueArray<(long Tick, int Sharps, bool Minor)> Keys { get; init; }

    /// <summary>Tick and text, ascending.</summary>
    public ValueArray<(long Tick, string Text)> Markers { get; init; }

    /// <summary>Tick and text of cue points, ascending.</summary>
    public ValueArray<(long Tick, string Text)> Cues { get; init; }

    /// <summary>Hours, minutes, seconds, frames, hundredths of a frame, frames a second (29 is 29.97 drop); empty where there is none.</summary>
    public ValueArray<int> SmpteOffset { get; init; }

    /// <summary>What each track of the file holds.</summary>
    public ValueArray<SmfTrackContents> Tracks { get; init; }

    /// <summary>What was met and could not be used.</summary>
    public ValueArray<Finding> Findings { get; init; }

    /// <summary>Sorts out the events of a file.</summary>
    public static SmfContents Of(SmfFile file)
    {
        FindingList findings = [.. file.Findings];
        var metas = file.Tracks.SelectMany(t => t.Events).Where(e => e.IsMeta).OrderBy(e => e.Tick).ToList();
        var tracks = file.Tracks.Select((t, i) => SmfTrackContents.Of(t, i + 1, findings)).ToValueArray();
        findings.AddRange(ConductorTexts(tracks));
        return new SmfContents
        {
            Tempos = Of(metas, SmfMeta.Tempo, 3, e => (e.Tick, (e.Data[0] << 16) | (e.Data[1] << 8) | e.Data[2])).Where(t => t.Item2 > 0).ToValueArray(),
            Meters = Of(metas, SmfMeta.Meter, 2, e => (e.Tick, (int)e.Data[0], 1 << Math.Min((int)e.Data[1], 16))).Where(m => m.Item2 > 0).ToValueArray(),
            Keys = Of(metas, SmfMeta.Key, 2, e => (e.Tick, (int)(sbyte)e.Data[0], e.Data[1] == 1)).ToValueArray(),
            Markers = Of(metas, SmfMeta.Marker, 0, e => (e.Tick, TextGuess.Decode(e.Data.AsSpan()))).ToValueArray(),
            Cues = Of(metas, SmfMeta.Cue, 0, e => (e.Tick, TextGuess.Decode(e.Data.AsSpan()))).ToValueArray(),
            SmpteOffset = Of(metas, SmfMeta.SmpteOffset, 5, Smpte).FirstOrDefault(),
            Tracks = tracks,
            Findings = findings.ToValueArray(),
        };
    }

    // A conductor track has no notes to go along with, so what it says beyond the map is told.
    private static IEnumerable<Finding> ConductorTexts(ValueArray<SmfTrackContents> tracks) =>
        tracks.Count > 1 && tracks[0].Notes.Count == 0 && tracks[0].Controls.All(c => c.Kind == NoteControlKind.Meta)
            ? tracks[0].Controls.Take(MostTexts).Select(c => new Finding(MidiCodes.ConductorText, "track 1", c.Number is >= SmfMeta.Text and <= SmfMeta.LastText
                ? $"The conductor track has a {SmfMeta.NameOf((byte)c.Number)}, which has no place in a session: {TextGuess.Decode(c.Bytes.AsSpan())}"
                : $"The conductor track has {SmfMeta.NameOf((byte)c.Number)} of {c.Bytes.Count} bytes, which was left out."))
            : [];

    private static IEnumerable<T> Of<T>(IEnumerable<SmfEvent> metas, byte type, int least, Func<SmfEvent, T> read) =>
        metas.Where(e => e.Meta == type && e.Data.Count >= least).Select(read);

    // Bits 5 and 6 of the hour say the frame rate (RP-001, FF 54).
    private static ValueArray<int> Smpte(SmfEvent e) =>
        [e.Data[0] & 0x1F, e.Data[1], e.Data[2], e.Data[3], e.Data[4], ((e.Data[0] >> 5) & 3) switch { 0 => 24, 1 => 25, 2 => 29, _ => 30 }];
}
