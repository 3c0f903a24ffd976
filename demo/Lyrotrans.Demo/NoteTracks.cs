using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Demo;

/// <summary>The note parts of the scenario: celesta in three parts (one muted), harp, bass drum, and an empty part.</summary>
internal sealed class NoteTracks(double scale)
{
    private const int Ticks = 480;

    public IEnumerable<Track> Make()
    {
        var quarters = Math.Max(6, (int)(118 * scale));
        yield return Notes("Celesta", 1, 8,
            Part("celesta-1", "Celesta, opening", -1, (quarters / 2) + 1, 200, 1, 62, 90, 0.3),
            Part("celesta-2", "Celesta, idea", quarters / 4, 8, 201, 1, 70, 95, 0.25) with { Muted = true },
            Part("celesta-3", "Celesta, close", quarters / 2, quarters / 2, 202, 1, 62, 90, 0.4));
        yield return Notes("Harp", 2, 46, Part("harp-1", "Harp", quarters / 5, quarters * 3 / 5, 203, 2, 40, 88, 0.5));
        yield return Notes("Bass drum", 10, 0, Part("drum-1", "Bass drum", 0, quarters, 204, 10, 35, 36, 1.9));
        yield return Notes("Glass pad", 3, 92, new NotePart
        {
            Id = "glass-1",
            Name = "Glass pad, to come",
            StartQuarter = 4,
            LengthQuarters = 16,
            TicksPerQuarter = Ticks,
        });
    }

    private static Track Notes(string name, int channel, int program, params NotePart[] parts)
    {
        if (parts[0].Notes.Count > 0)
        {
            parts[0] = parts[0] with
            {
                Controls = parts[0].Controls.Prepend(new NoteControl(0, NoteControlKind.Controller, channel, 7, 100))
                    .Prepend(new NoteControl(0, NoteControlKind.Program, channel, 0, program)).ToValueArray(),
            };
        }

        return new Track { Id = name.ToLowerInvariant().Replace(' ', '-'), Name = name, Kind = TrackKind.Notes, Channels = 0, Output = "master", Parts = parts.ToValueArray() };
    }

    private static NotePart Part(string id, string name, int start, int length, uint seed, int channel, int low, int high, double every)
    {
        var dice = new Synth(48_000, seed);
        var notes = new List<Note>();
        var controls = new List<NoteControl>();
        for (var at = 0.0; at < length - 0.5; at += every * (0.5 + dice.Next()))
        {
            var tick = (long)(at * Ticks);
            notes.Add(new Note(tick, 60 + (long)(dice.Next() * 600), channel, low + (int)(dice.Next() * (high - low + 1)), 30 + (int)(dice.Next() * 90)));
            if (dice.Next() < 0.08)
            {
                controls.Add(new NoteControl(tick, NoteControlKind.Controller, channel, 64, dice.Next() < 0.5 ? 0 : 127));
            }
        }

        // One key at a time: a note that is struck again ends there.
        var clean = notes.OrderBy(n => n.Tick).ThenBy(n => n.Key).ToList();
        for (var i = 0; i < clean.Count; i++)
        {
            var again = clean.Skip(i + 1).FirstOrDefault(n => n.Key == clean[i].Key);
            if (again.Velocity > 0 && again.Tick < clean[i].Tick + clean[i].Length)
            {
                clean[i] = clean[i] with { Length = Math.Max(1, again.Tick - clean[i].Tick) };
            }
        }

        return new NotePart
        {
            Id = id,
            Name = name,
            StartQuarter = new Rational(start, 1),
            LengthQuarters = length,
            TicksPerQuarter = Ticks,
            Notes = clean.ToValueArray(),
            Controls = controls.ToValueArray(),
        };
    }
}
