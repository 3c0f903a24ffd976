using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Demo;

/// <summary>
/// The demo session: music and narration for a planetarium show, synthesised with a fixed seed, with one of every kind of
/// thing and of every flag that the application knows.
/// </summary>
public sealed class OrrerySuite
{
    private readonly DemoMedia _media;
    private readonly double _scale;
    private readonly List<Track> _tracks = [];

    private OrrerySuite(string folder, double scale)
    {
        _media = new DemoMedia(folder, scale);
        _scale = scale;
    }

    /// <summary>Makes the media below a folder and gives the session.</summary>
    /// <param name="folder">Gets a folder <c>media</c>.</param>
    /// <param name="scale">1 is the whole piece of about 75 s; smaller makes everything shorter, for tests.</param>
    public static Session Make(string folder, double scale = 1)
    {
        var suite = new OrrerySuite(folder, scale);
        return suite.Make();
    }

    private Session Make()
    {
        Horns();
        Strings();
        Piano();
        Struck();
        Narrator();
        Oddities();
        _tracks.AddRange(new NoteTracks(_scale).Make());
        Withheld();
        Buses();
        var session = new Session
        {
            Name = "Orrery Suite",
            Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25),
            Bar1Sample = 31_304,
            Tempo = Tempo(),
            Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(17, 7, 8), new MeterChange(23, 4, 4)]),
            Keys = [new KeyChange(-1, -1, true)],
            Media = _media.All.ToValueArray(),
            Tracks = _tracks.ToValueArray(),
            Picture = new PictureReference("picture/reel-one.mov", Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25), DemoPicture.FramesOf(_scale)),
        };
        return session with { Markers = Markers(session) };
    }

    // 92, over four bars up to 116, and a ritardando to 66.
    private static TempoMap Tempo()
    {
        var meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(17, 7, 8), new MeterChange(23, 4, 4)]);
        TempoPoint At(long bar, int tempo, bool ramp = false) => new(meters.StartOfBar(bar), tempo, ramp);
        return new TempoMap([new TempoPoint(-1, 92), At(13, 92, ramp: true), At(17, 116), At(29, 116, ramp: true), At(32, 66)]);
    }

    private ValueArray<Marker> Markers(Session session)
    {
        (string Text, long Bar)[] places = [("Lamps down", 1), ("First planet", 10), ("Comet", 17), ("Dome turns", 23), ("Dark", 30)];
        var end = (long)(75 * _scale * 48_000);
        var markers = places.Select((p, i) => new Marker($"m{i + 1}", p.Text, session.Clock.SampleAt(session.Meters.StartOfBar(p.Bar)), p.Text is "Lamps down" or "Comet" ? 96_000 : 0));

        // Somebody left an end marker far out.
        return markers.Where(m => m.Sample < end).Append(new Marker("m9", "End of file", end + (40 * 48_000))).ToValueArray();
    }

    private void Horns()
    {
        var close = _media.Add("horn-close.wav", 40, 11, (s, t) => [s.Sustained(t, 146.8, 0.62, 0.16)]);
        var room = _media.Add("horn-room.wav", 40, 11, (s, t) => [s.Room(s.Sustained(t, 146.8, 0.62, 0.16), 0.021, 0.5)]);
        foreach (var (name, media) in new[] { ("Horn close", close), ("Horn room", room) })
        {
            var clips = new ClipMaker(media.Id, _scale);
            var edit = new Synth(48_000, 77);
            for (var at = 0.1; at < 71; at += 2.6 + (edit.Next() * 1.2))
            {
                var length = 1.6 + (edit.Next() * 0.9);
                clips.Add(media, at, length, 1.2 + (edit.Next() * 34), Math.Round(edit.Next() * 6 - 3, 2), 480, 1920, FadeShape.EqualPower);
                if (edit.Next() < 0.3)
                {
                    clips.CrossInto(media, 0.9, 2 + (edit.Next() * 30), 960, FadeShape.EqualPower);
                    at += 0.9;
                }
            }

            // Its last clip ends a hair before its file does.
            clips.Add(media, 73.2, 1.7, 38.0, 0, 240, 4800, FadeShape.Logarithmic);
            Audio(name, clips.Lane("main"), pan: name == "Horn close" ? -0.3 : 0, sends: [("long-hall", -12)]);
        }
    }

    private void Strings()
    {
        var cello = _media.Add("cello.wav", 77, 21, (s, t) => [Synth.Clicked(s.Sustained(t, 73.4, 0.7, 0.14), t * 0.06, 48_000)]);
        var clips = new ClipMaker("cello", _scale);
        clips.Add(cello, 0, 24, 0.5, 0, 96, 0);
        for (var i = 0; i < 11; i++)
        {
            clips.CrossInto(cello, 4.5, 24.5 + (i * 4.5), 480, i % 2 == 0 ? FadeShape.Linear : FadeShape.S, i % 3 == 0 ? -1.5 : 0);
        }

        Audio("Cello", clips.Lane("main"), output: "strings", sends: [("long-hall", -9)], ride: [(0, -6), (9, -6), (16, -10.5), (28, -8), (34, 0), (49, -5), (72, -12)]);
        var bass = _media.Add("bass-direct.wav", 44, 31, (s, t) => [Synth.Dropped(s.Sustained(t, 36.7, 0.75, 0.2), t * 0.07, 48_000)]);
        var low = new ClipMaker("bass", _scale);
        for (var i = 0; i < 12; i++)
        {
            // One of them lost its fade, and jumps.
            low.Add(bass, 7.7 + (i * 5.2), 4.9, 1 + (i * 3.3), 0, 240, i == 9 ? 0 : 960, FadeShape.Exponential);
        }

        Audio("Double bass", low.Lane("main"), output: "strings", inserts: [new Insert("drive and cabinet", [new Parameter("drive dB", 14), new Parameter("cabinet Hz", 3200), new Parameter("level dB", -8), new Parameter("oversampling", 2)], false, 64), new Insert("compressor", [new Parameter("threshold dB", -20), new Parameter("ratio", 4)], true)]);
        foreach (var (side, pan, seed) in new[] { ("L", -1.0, 41u), ("R", 1.0, 42u) })
        {
            var hall = _media.Add($"Hall pair_{side}.wav", 78, seed, (s, t) => [s.Room(Synth.Mix(s.Sustained(t, 110, 0.5, 0.09), s.Sustained(t, 220, 0.4, 0.05)), 0.034, 0.8)]);
            var edit = new ClipMaker($"hall-{side}", _scale);
            edit.Add(hall, 0, 30, 0, 0, 0, 0);
            edit.CrossInto(hall, 44.5, 30, 4800, FadeShape.EqualPower);
            Audio($"Hall {side}", edit.Lane("main"), output: "strings", pan: pan);
        }

        var array = _media.Add("array.wav", 36, 51, (s, t) => [.. Enumerable.Range(0, 4).Select(_ => s.Room(s.Sustained(t, 130.8, 0.5, 0.1), 0.01 + (s.Next() * 0.03), 0.6)).Select((c, i) => i < 3 ? c : Unplugged(c))]);
        var four = new ClipMaker("array", _scale);

        // The fourth cable was out.
        static double[] Unplugged(double[] sound) => new double[sound.Length];
        for (var i = 0; i < 4; i++)
        {
            four.Add(array, 3.3 + (i * 17.1), 8.2, 0.8 + (i * 8.5), 0, 4800, 9600, FadeShape.S);
        }

        Audio("Array", four.Lane("main"), sends: [("long-hall", -15)]);
    }

    private void Piano()
    {
        var piano = _media.Add("piano.wav", 46, 61, (s, t) => [Synth.Offset(s.Struck(t, 196, [1, 2.01, 3.03], 1.4, 0.4, 0.6), 0.004), s.Struck(t, 220, [1, 2.01, 3.03], 1.4, 0.4, 0.6)]);
        var clips = new ClipMaker("piano", _scale);
        for (var i = 0; i < 22; i++)
        {
            clips.Add(piano, 0.7 + (i * 3.3), 2.9, 0.3 + (i * 1.9), i % 4 == 1 ? -2.5 : 0, 48, 2400);
        }

        Audio("Piano", clips.Lane("main"), sends: [("long-hall", -14), ("echo-wall", -18)]);
        var guide = _media.Add("guide-piano.wav", 20, 62, (s, t) => Twice(Synth.Within(s.Struck(t, 196, [1, 2.01], 1.1, 0.3, 0.5), 0.03, 0.9)));
        var same = new ClipMaker("guide", _scale);
        same.Add(guide, 20, 11, 0.5);
        same.Add(guide, 31, 7, 11.5);
        same.PartBy(4);
        Audio("Guide piano", same.Lane("main"));
        _tracks[^1] = _tracks[^1] with { Note = "A placeholder, to be played again." };
        static double[][] Twice(double[] sound) => [sound, sound];
    }

    private void Struck()
    {
        var hits = Enumerable.Range(1, 4).Select(i => _media.Add(
            $"timpani-{i}.wav", 2.4, 70u + (uint)i, (s, t) => [s.Struck(t, 65 + (i * 14), [1, 1.5, 1.99, 2.44], 0.5, 0.8, 9)])).ToArray();
        var clips = new ClipMaker("timpani", _scale);
        var dice = new Synth(48_000, 79);
        for (var i = 0; i < 118; i++)
        {
            clips.Add(hits[(int)(dice.Next() * 4)], 1.1 + (i * 0.6), 0.5, 0, Math.Round(-9 + (dice.Next() * 9), 1), 0, 1200, FadeShape.Exponential);
        }

        Audio("Timpani", clips.Lane("main"), sends: [("long-hall", -10)]);
        var bell = _media.Add("bell.wav", 14, 81, (s, t) => [s.Struck(t, 523, [1, 2.76, 5.4, 8.93], 2.5, 0.5, 3.1)], 44_100);
        var rings = new ClipMaker("bell", _scale);
        rings.Add(bell, 41.3, 6.1, 0, 0, 0, 19_200, FadeShape.Exponential);
        rings.Add(bell, 55.2, 9.4, 3.1, -3, 96, 19_200, FadeShape.Exponential);
        Audio("Bell", rings.Lane("main"), sends: [("long-hall", -8), ("echo-wall", -12)]);
    }

    private void Narrator()
    {
        var takes = Enumerable.Range(1, 3).Select(i => _media.Add($"narrator-take-{i}.wav", 70, 90u + (uint)i, (s, t) => [s.Voice(t, 112, 0.4)])).ToArray();
        var comp = new ClipMaker("narrator", _scale);
        var dice = new Synth(48_000, 99);
        for (var i = 0; i < 8; i++)
        {
            var at = 4 + (i * 8.2);
            comp.Add(takes[i % 3], at, 2.1, at - 2.6, i % 3 == 0 ? -2.5 : 0, 960, 960, FadeShape.EqualPower);
            for (var piece = 1; piece < 5; piece++)
            {
                var take = takes[(int)(dice.Next() * 3)];
                comp.CrossInto(take, 0.6 + (dice.Next() * 0.6), at + piece, 720, FadeShape.EqualPower, Math.Round(dice.Next() * 4 - 2, 2));
            }
        }

        Lane Spare(int i)
        {
            var lane = new ClipMaker($"narrator-take-{i}", _scale);
            lane.Add(takes[i - 1], 2, 66, 0.4);
            return lane.Lane($"take {i}");
        }

        var told = comp.Lane("comp");
        Audio("Narrator", told with { Clips = [told.Clips[0] with { Note = "From here on the takes are not chosen yet." }, .. told.Clips.Skip(1)] }, spares: [Spare(2), Spare(3)]);
    }

    private void Oddities()
    {
        var chime = _media.Add("chime.wav", 5, 101, (s, t) => [s.Struck(t, 880, [1, 2.76, 5.4], 1.8, 0.35, 1.3)]);
        foreach (var place in new[] { 18.0, 47.0 })
        {
            var clips = new ClipMaker($"chime-{place}", _scale);
            if (place > 18)
            {
                // Somebody copied the first stroke here too, and it sounds twice.
                clips.Add(chime, 18, 2, 0.2, 0, 48, 4800);
            }

            clips.Add(chime, place, 4.2, 0.2, 0, 48, 4800);
            Audio("Chimes", clips.Lane("main"), id: $"chimes-{(int)place}");
        }

        // Two loud layers that clip when they are printed, and a clip that runs past the end of its file.
        var swell = _media.Add("swell.wav", 9, 111, (s, t) => [s.Sustained(t, 98, 0.8, 0.42)]);
        var loud = new ClipMaker("swell", _scale);
        loud.Add(swell, 56, 7, 0.5, 7.5, 9600, 9600, FadeShape.S);
        loud.Add(swell, 66, 6, 5.5, -4, 480, 4800);
        Audio("Swell: in/out?", loud.Lane("main"), id: "swell");
    }

    private void Withheld()
    {
        var tone = _media.Add("test-tone.wav", 20, 121, (s, t) => [s.Tone(t, 1000, 0.1)]);
        var scratch = _media.Add("scratch.wav", 12, 131, (s, t) => [s.Voice(t, 140, 0.3)]);
        var choir = _media.Add("choir.wav", 12, 141, (s, t) => [s.Sustained(t, 261, 0.4, 0.1)]);
        foreach (var (name, media, state, at) in new[]
        {
            ("Test tone", tone, TrackState.Hidden, 0.0), ("Scratch", scratch, TrackState.Muted, 12.0), ("Old choir", choir, TrackState.SwitchedOff, 30.0),
        })
        {
            var clips = new ClipMaker(name, _scale);
            clips.Add(media, at, 10, 0.4);
            Audio(name, clips.Lane("main"), state: state);
        }

        // Somebody printed the bell to be safe, and both would go.
        var printed = _media.Add("bell-print.wav", 9, 151, (s, t) => [s.Struck(t, 523, [1, 2.76, 5.4, 8.93], 2.5, 0.4, 3.1)]);
        var twice = new ClipMaker("bell-print", _scale);
        twice.Add(printed, 41.3, 6.1, 0.4, 0, 480, 9_600);
        Audio("Bell print", twice.Lane("main"));

        // And a take of the narration that came as a track of its own.
        var spoken = _media.Add("narrator-take-4.wav", 12, 161, (s, t) => [s.Voice(t, 112, 0.2)]);
        var take = new ClipMaker("narrator-take-4", _scale);
        take.Add(spoken, 30, 4, 2.5, 0, 960, 960, FadeShape.EqualPower);
        Audio("Narrator take 4", take.Lane("main"));
    }

    private void Buses()
    {
        _tracks.Add(new Track { Id = "strings", Name = "Strings", Kind = TrackKind.Bus, Channels = 2, Output = "master" });
        _tracks.Add(new Track
        {
            Id = "long-hall",
            Name = "Long hall",
            Kind = TrackKind.Return,
            Channels = 2,
            Output = "master",
            Inserts = [new Insert("reverb", [new Parameter("time s", 2.8), new Parameter("pre-delay ms", 22)])],
        });
        _tracks.Add(new Track
        {
            Id = "echo-wall",
            Name = "Echo wall",
            Kind = TrackKind.Return,
            Channels = 2,
            Output = "master",
            Inserts = [new Insert("delay", [new Parameter("time ms", 489), new Parameter("feedback", 0.35), new Parameter("mix %", 100)])],
        });
        _tracks.Add(new Track
        {
            Id = "master",
            Name = "Master",
            Kind = TrackKind.Master,
            Channels = 2,
            Inserts = [new Insert("limiter", [new Parameter("ceiling dB", -1), new Parameter("look-ahead ms", 1.5)], false, 72)],
        });
    }

    private void Audio(
        string name, Lane lane, string? id = null, string output = "master", double pan = 0, TrackState state = TrackState.Active, (string To, double Db)[]? sends = null,
        (double Seconds, double Db)[]? ride = null, Insert[]? inserts = null, Lane[]? spares = null) => _tracks.Add(new Track
        {
            Id = id ?? name.ToLowerInvariant().Replace(' ', '-'),
            Name = name,
            Channels = lane.Clips[0].ChannelMap.Count,
            State = state,
            Pan = pan,
            Output = output,
            Sends = (sends ?? []).Select(s => new Send(s.To, s.Db)).ToValueArray(),
            Inserts = (inserts ?? []).ToValueArray(),
            FaderAutomation = ride is null ? null : new Automation(ride.Select(p => new AutomationPoint((long)(p.Seconds * _scale * 48_000), p.Db)).ToValueArray()),
            Lanes = (spares ?? []).Prepend(lane).ToValueArray(),
        });
}
