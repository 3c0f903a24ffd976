using Lyrotrans.Audio.Instruments;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class InstrumentTests
{
    // At 60 quarters a minute and 48 000 ticks a quarter a tick is a sample.
    private static double[] Play(int count, int block, NoteControl[] controls, params Note[] notes)
    {
        var part = new NotePart { Id = "p", Name = "p", LengthQuarters = 10, TicksPerQuarter = 48_000, Notes = notes.ToValueArray(), Controls = controls.ToValueArray() };
        var track = new Track { Id = "t", Name = "t", Kind = TrackKind.Notes, Channels = 2, Parts = [part, part with { Id = "m", Muted = true, Notes = [new Note(0, 48_000, 1, 40, 127)] }] };
        var session = new Session { Name = "s", Tempo = TempoMap.Constant(60), Tracks = [track] };
        using var sound = new SoundFontSounds().Play(session, track);
        var result = new double[count];
        double[][] piece = [new double[block], new double[block]];
        for (var at = 0; at < count; at += block)
        {
            var now = Math.Min(block, count - at);
            sound.Read(at, now, piece);
            piece[0].AsSpan(0, now).CopyTo(result.AsSpan(at));
        }

        return result;
    }

    [Theory]
    [InlineData(1)]
    [InlineData(37)]
    [InlineData(64)]
    [InlineData(12_345)]
    public void A_key_sounds_on_its_sample(int later)
    {
        var first = Play(40_000, 1000, [], new Note(100, 9_600, 1, 60, 100));
        var second = Play(40_000, 1000, [], new Note(100 + later, 9_600, 1, 60, 100));
        Assert.Equal(first[..(40_000 - later)], second[later..]);
        Assert.True(first.Max() > 0.01);
        Assert.All(first[..100], v => Assert.Equal(0, v));
    }

    [Fact]
    public void The_same_notes_are_the_same_sound_whatever_the_blocks()
    {
        Note[] notes = [.. Enumerable.Range(0, 12).Select(i => new Note(i * 1777, 3000, 1, 50 + i, 80))];
        Assert.Equal(Play(50_000, 4096, [], notes), Play(50_000, 333, [], notes));
    }

    [Fact]
    public void Programs_and_controllers_are_heard_and_muted_parts_are_not()
    {
        var note = new Note(4800, 20_000, 1, 64, 100);
        var plain = Play(30_000, 1000, [], note);
        Assert.All(plain[..4800], v => Assert.Equal(0, v));
        Assert.NotEqual(plain, Play(30_000, 1000, [new NoteControl(0, NoteControlKind.Program, 1, 0, 48)], note));
        Assert.True(Play(30_000, 1000, [new NoteControl(0, NoteControlKind.Controller, 1, 7, 20)], note).Max() < plain.Max() / 4);
        Assert.NotEqual(plain, Play(30_000, 1000, [new NoteControl(0, NoteControlKind.PitchBend, 1, 0, 8191)], note));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(8)]
    [InlineData(46)]
    [InlineData(48)]
    public void A_key_sounds_the_same_whatever_the_track_played_before_it(int program)
    {
        NoteControl[] controls = [new NoteControl(0, NoteControlKind.Program, 1, 0, program)];
        var late = new Note(300_000, 9_600, 1, 60, 100);
        var alone = Play(360_000, 4096, controls, late);
        Assert.Contains(alone, v => v != 0);
        foreach (var key in new[] { 40, 60, 61 })
        {
            // The earlier key has died away to nothing, or its own rest is taken off.
            var before = new Note(100, 9_600, 1, key, 100);
            var (both, first) = (Play(360_000, 4096, controls, before, late), Play(360_000, 4096, controls, before));
            Assert.All(Enumerable.Range(300_000, 60_000), i => Assert.Equal(alone[i], both[i] - first[i], 1e-12));
        }
    }

    [Fact]
    public void What_another_track_played_before_is_not_heard()
    {
        var note = new Note(100, 9_600, 1, 60, 100);
        var plain = Play(30_000, 1000, [], note);
        for (var round = 0; round < 4; round++)
        {
            Play(30_000, 1000, [new NoteControl(0, NoteControlKind.PitchBend, 1, 0, 8191), new NoteControl(0, NoteControlKind.Program, 1, 0, 48)], note, new Note(20_000, 20_000, 1, 64 + round, 100));
            Assert.Equal(plain, Play(30_000, 1000, [], note));
        }
    }

    /// <summary>Which synthesizer a track gets is chance: what was cut off on it, still sounding, must not be heard in what comes next.</summary>
    [Theory]
    [InlineData(8)]
    [InlineData(0)]
    [InlineData(14)]
    public void A_key_sounds_the_same_on_a_synthesizer_that_was_left_sounding(int program)
    {
        // A rate that nothing else has: both are fresh.
        const double Hz = 47_321;
        NoteEvent[] key = [new(0, NoteEventKind.On, 0, 62, 90), new(9_600, NoteEventKind.Off, 0, 62, 0)];
        float[] Sound(KeyPlayer player, int of, NoteEvent[] events, params NoteEvent[] standing)
        {
            var controls = new ControlState();
            foreach (var control in standing.Prepend(new NoteEvent(0, NoteEventKind.Program, 0, 0, of)))
            {
                controls.Take(control);
            }

            using var played = player.Play(events[0], controls, [.. events], 0);
            return [.. played.Left(0, (int)played.End), .. played.Right(0, (int)played.End)];
        }

        var (fresh, used) = (KeyPlayer.Take(Hz), KeyPlayer.Take(Hz));
        var alone = Sound(fresh, program, key);
        Assert.Contains(alone, s => s != 0);
        for (var round = 0; round < 5; round++)
        {
            // Strings with the pedal down do not end.
            NoteEvent[] held = [new(0, NoteEventKind.On, 0, 40 + (7 * round), 127), new(100, NoteEventKind.Off, 0, 40 + (7 * round), 0)];
            Sound(used, 48, held, new NoteEvent(0, NoteEventKind.Controller, 0, 64, 127));
            Assert.Equal(alone, Sound(used, program, key));
        }
    }
}
