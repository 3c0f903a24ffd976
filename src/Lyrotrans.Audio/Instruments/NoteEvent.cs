using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Instruments;

/// <summary>Something that an instrument is told, at a session sample.</summary>
internal readonly record struct NoteEvent(long Sample, NoteEventKind Kind, int Channel, int First, int Second, long On = 0)
{
    /// <summary>Of all parts that are not muted, in order; at one sample keys are let go first, then controls, then keys struck.</summary>
    public static List<NoteEvent> Of(Session session, Track track)
    {
        var clock = session.Clock;
        var events = new List<NoteEvent>();
        foreach (var part in track.Parts.Where(p => !p.Muted))
        {
            long At(long tick) => clock.SampleAt(part.StartQuarter + new Rational(tick, part.TicksPerQuarter));
            var end = clock.SampleAt(part.EndQuarter);
            foreach (var note in part.Notes.Where(n => At(n.Tick) < end && n.Velocity > 0))
            {
                var on = At(note.Tick);
                events.Add(new NoteEvent(on, NoteEventKind.On, note.Channel - 1, note.Key, note.Velocity, on));
                events.Add(new NoteEvent(Math.Max(on + 1, Math.Min(end, At(note.Tick + note.Length))), NoteEventKind.Off, note.Channel - 1, note.Key, 0, on));
            }

            foreach (var control in part.Controls.Where(c => At(c.Tick) < end && c.Kind is not (NoteControlKind.SystemExclusive or NoteControlKind.Meta)))
            {
                events.Add(new NoteEvent(At(control.Tick), KindOf(control.Kind), control.Channel - 1, control.Number, control.Value));
            }
        }

        return events.Select((e, i) => (e, i)).OrderBy(p => p.e.Sample).ThenBy(p => p.e.Kind).ThenBy(p => p.i).Select(p => p.e).ToList();
    }

    private static NoteEventKind KindOf(NoteControlKind kind) => kind switch
    {
        NoteControlKind.Program => NoteEventKind.Program,
        NoteControlKind.PitchBend => NoteEventKind.Bend,
        NoteControlKind.ChannelPressure => NoteEventKind.ChannelPressure,
        NoteControlKind.PolyPressure => NoteEventKind.KeyPressure,
        _ => NoteEventKind.Controller,
    };
}
