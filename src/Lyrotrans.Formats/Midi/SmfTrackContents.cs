using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Midi;

/// <summary>A track's name, notes and everything else on its channels. Ticks from the file's start.</summary>
/// <remarks>docs/formats/midi.md, section 4.</remarks>
public sealed record SmfTrackContents(string Name, ValueArray<Note> Notes, ValueArray<NoteControl> Controls, long EndTick)
{
    /// <param name="track">The events.</param>
    /// <param name="number">From 1, for findings.</param>
    /// <param name="findings">Gets notes that overlap themselves or never end.</param>
    public static SmfTrackContents Of(SmfTrack track, int number, FindingList findings)
    {
        var pairing = new NotePairing(number, findings);
        var controls = new List<NoteControl>();
        foreach (var e in track.Events)
        {
            if (e.Kind is 0x80 or 0x90 && !e.IsMeta)
            {
                pairing.Take(e);
            }
            else if (Control(e) is { } control)
            {
                controls.Add(control);
            }
        }

        var name = track.Events.FirstOrDefault(e => e.IsMeta && e.Meta == SmfMeta.TrackName);
        return new SmfTrackContents(
            name.Status == 0 ? string.Empty : TextGuess.Decode(name.Data.AsSpan()),
            pairing.Finish(track.EndTick).ToValueArray(), controls.ToValueArray(), track.EndTick);
    }

    private static NoteControl? Control(SmfEvent e) => e.Status switch
    {
        SmfEvent.MetaStatus => SmfMeta.HasPlace(e.Meta) ? null : new NoteControl(e.Tick, NoteControlKind.Meta, 0, e.Meta, 0, e.Data),
        0xF0 or 0xF7 => new NoteControl(e.Tick, NoteControlKind.SystemExclusive, 0, e.Status, 0, e.Data),
        _ => e.Kind switch
        {
            0xA0 => new NoteControl(e.Tick, NoteControlKind.PolyPressure, e.Channel, e.Data[0], e.Data[1]),
            0xB0 => new NoteControl(e.Tick, NoteControlKind.Controller, e.Channel, e.Data[0], e.Data[1]),
            0xC0 => new NoteControl(e.Tick, NoteControlKind.Program, e.Channel, 0, e.Data[0]),
            0xD0 => new NoteControl(e.Tick, NoteControlKind.ChannelPressure, e.Channel, 0, e.Data[0]),
            0xE0 => new NoteControl(e.Tick, NoteControlKind.PitchBend, e.Channel, 0, (e.Data[0] | (e.Data[1] << 7)) - 8192),
            _ => null,
        },
    };

    /// <summary>Matches note-offs to note-ons: the oldest open note of a key ends first.</summary>
    private sealed class NotePairing(int track, FindingList findings)
    {
        private readonly Dictionary<(int Channel, int Key), Queue<SmfEvent>> _open = [];
        private readonly HashSet<int> _overlapping = [];
        private readonly List<Note> _notes = [];

        public void Take(SmfEvent e)
        {
            var key = (e.Channel, (int)e.Data[0]);
            var open = _open.TryGetValue(key, out var queue) ? queue : _open[key] = new Queue<SmfEvent>();
            if (e.Kind == 0x90 && e.Data[1] > 0)
            {
                if (open.Count > 0 && _overlapping.Add(key.Item2))
                {
                    findings.Add(MidiCodes.OverlappingNote, $"track {track}", string.Create(CultureInfo.InvariantCulture, $"Track {track}: overlapping note {key.Item2} at tick {e.Tick}; the oldest one ends first."));
                }

                open.Enqueue(e);
            }
            else if (open.TryDequeue(out var on))
            {
                _notes.Add(new Note(on.Tick, e.Tick - on.Tick, e.Channel, key.Item2, on.Data[1], e.Kind == 0x80 ? e.Data[1] : 64));
            }
        }

        public IEnumerable<Note> Finish(long endTick)
        {
            foreach (var ((channel, key), queue) in _open)
            {
                foreach (var on in queue)
                {
                    findings.Add(MidiCodes.OpenNote, $"track {track}", $"Track {track}: note {key} at tick {on.Tick} never ends; it was closed at the track's end.");
                    _notes.Add(new Note(on.Tick, Math.Max(0, endTick - on.Tick), channel, key, on.Data[1]));
                }
            }

            return _notes.OrderBy(n => n.Tick).ThenBy(n => n.Channel).ThenBy(n => n.Key).ThenBy(n => n.Length).ThenBy(n => n.Velocity);
        }
    }
}
