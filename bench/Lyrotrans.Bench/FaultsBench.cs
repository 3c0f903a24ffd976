using System.Globalization;
using Lyrotrans.Audio.Faults;
using Lyrotrans.Audio.Instruments;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Bench;

/// <summary>
/// Finds faults that were planted in hours of sampled instruments with a noise floor, and counts what is found where none was.
/// </summary>
internal static class FaultsBench
{
    private const int Hz = 48_000;
    private const int Other = 4800;

    // General MIDI programs, one file each; −1 is the drum kit.
    private static readonly int[] s_programs = [0, 4, 6, 11, 13, 16, 21, 24, 27, 30, 33, 36, 40, 42, 45, 46, 48, 52, 56, 60, 66, 71, 73, 80, 81, 88, 105, 112, 114, -1, -1, -1];

    public static void Run(double minutes, int planted, int seed)
    {
        var (found, alarms, seconds) = (new Dictionary<string, (int Found, int Planted)>(), 0, 0.0);
        var clock = new System.Diagnostics.Stopwatch();
        for (var i = 0; i < s_programs.Length; i++)
        {
            var dice = new Random((seed * 1000) + i);
            var sound = Sound(s_programs[i], minutes / s_programs.Length, dice);
            clock.Start();
            var clean = Find(sound, dice.Next(1, 5000));
            clock.Stop();
            seconds += (double)sound.Length / Hz;
            alarms += clean.Count;
            foreach (var fault in clean.Faults)
            {
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"false: program {s_programs[i]}, {fault.Kind} at {fault.Sample / (double)Hz:0.000} s"));
            }

            var plants = Plant(sound, (planted + s_programs.Length - 1) / s_programs.Length, dice);
            var faults = Find(sound, 4096).Faults;
            foreach (var (what, at, length) in plants)
            {
                var seen = faults.Any(f => f.Sample >= at - 48 && f.Sample <= at + length + 48);
                var (f, p) = found.GetValueOrDefault(what);
                found[what] = (f + (seen ? 1 : 0), p + 1);
                if (!seen)
                {
                    Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"missed: program {s_programs[i]}, {what} at {at / (double)Hz:0.000} s, {length} samples"));
                }
            }
        }

        foreach (var (what, (f, p)) in found.OrderBy(p => p.Key, StringComparer.Ordinal))
        {
            Console.WriteLine($"{what}: {f} of {p}");
        }

        var all = found.Values.Sum(v => v.Found) / (double)found.Values.Sum(v => v.Planted);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{all * 100:0.0} % of {found.Values.Sum(v => v.Planted)} found; {alarms} false alarms in {seconds / 60:0.0} minutes, {alarms / seconds * 600:0.00} in ten; {seconds / clock.Elapsed.TotalSeconds:0} times real time"));
    }

    private static SoundFaults Find(double[] sound, int block)
    {
        var finder = new FaultFinder(1, SampleRate.Hz48000);
        for (var at = 0; at < sound.Length; at += block)
        {
            var count = Math.Min(block, sound.Length - at);
            finder.Take([sound.AsSpan(at, count).ToArray()], count);
        }

        return finder.Result();
    }

    private static double[] Sound(int program, double minutes, Random dice)
    {
        var (drums, quarters) = (program < 0, (int)(minutes * 120));
        var (channel, notes) = (drums ? 10 : 1, new List<Note>());
        var every = 0.15 + dice.NextDouble();
        for (var at = 0.0; at < quarters - 4; at += every * (0.3 + (1.4 * dice.NextDouble())))
        {
            for (var voices = dice.Next(1, 4); voices > 0; voices--)
            {
                notes.Add(new Note((long)(at * 480), 60 + dice.Next(1500), channel, drums ? dice.Next(35, 60) : dice.Next(36, 90), dice.Next(30, 127)));
            }
        }

        var part = new NotePart
        {
            Id = "p",
            Name = "p",
            LengthQuarters = quarters,
            TicksPerQuarter = 480,
            Notes = notes.DistinctBy(n => (n.Tick, n.Key)).OrderBy(n => n.Tick).ThenBy(n => n.Key).ToValueArray(),
            Controls = [new NoteControl(0, NoteControlKind.Program, channel, 0, Math.Max(0, program))],
        };
        var session = new Session { Name = "s", Tracks = [new Track { Id = "t", Name = "t", Kind = TrackKind.Notes, Parts = [part] }] };
        using var played = new SoundFontSounds().Play(session, session.Tracks[0]);
        var sound = new double[(int)(minutes * 60 * Hz)];
        double[][] block = [new double[4096]];
        for (var at = 0; at < sound.Length; at += 4096)
        {
            played.Read(at, 4096, block);
            block[0].AsSpan(0, Math.Min(4096, sound.Length - at)).CopyTo(sound.AsSpan(at));
        }

        // Level, a room's noise, and the steps of 24 or 16 bits.
        var peak = sound.Max(Math.Abs);
        var gain = Math.Pow(10, -dice.Next(1, 20) / 20.0) / Math.Max(1e-9, peak);
        var (noise, steps) = (Math.Pow(10, -dice.Next(65, 90) / 20.0), dice.Next(3) == 0 ? 32768.0 : 8388608.0);
        for (var i = 0; i < sound.Length; i++)
        {
            sound[i] = Math.Round(((sound[i] * gain) + (noise * (dice.NextDouble() + dice.NextDouble() - 1))) * steps) / steps;
        }

        return sound;
    }

    private static List<(string What, int At, int Length)> Plant(double[] sound, int count, Random dice)
    {
        var plants = new List<(string, int, int)>();
        for (var tries = 0; plants.Count < count && tries < 100_000; tries++)
        {
            var at = dice.Next(Hz, sound.Length - Hz);

            // Amid sound, and half a second from the next.
            if (Rms(sound, at - 960) < 3e-3 || Rms(sound, at) < 3e-3 || plants.Any(p => Math.Abs(p.Item2 - at) < Hz / 2))
            {
                continue;
            }

            plants.Add(dice.Next(5) switch
            {
                0 => Still(sound, at, dice.Next(24, 4800), 0),
                1 => Still(sound, at, dice.Next(24, 960), sound[at - 1]),
                2 => Jump(sound, at, 1, dice),
                3 => Jump(sound, at, dice.Next(2, 9), dice),
                _ => Splice(sound, at, dice),
            });
        }

        return plants;
    }

    private static double Rms(double[] sound, int at) => Math.Sqrt(sound.AsSpan(at, 960).ToArray().Average(s => s * s));

    private static (string What, int At, int Length) Still(double[] sound, int at, int length, double value)
    {
        sound.AsSpan(at, length).Fill(value);
        return (value == 0 ? "dropout to nothing" : "dropout that holds", at, length);
    }

    // As high as the sound near it, or more: bits that were lost are seldom the lowest ones.
    private static (string What, int At, int Length) Jump(double[] sound, int at, int length, Random dice)
    {
        var height = Rms(sound, at - 480) * (1 + (2 * dice.NextDouble()));
        for (var i = at; i < at + length; i++)
        {
            sound[i] = Math.Clamp(sound[i] + (height * (dice.Next(2) == 0 ? -1 : 1)), -1, 1);
        }

        return (length == 1 ? "click of one sample" : "click of 2 to 8 samples", at, length);
    }

    // Pieces that do not meet: where they do by chance nobody hears anything.
    private static (string What, int At, int Length) Splice(double[] sound, int at, Random dice)
    {
        for (; ; )
        {
            var (skip, near) = (dice.Next(200, 9600), Rms(sound, at - 480));
            if (Math.Abs(sound[at + skip] - sound[at - 1]) > near)
            {
                // Back by a crossfade, which is heard as little as it is looked for.
                var other = sound.AsSpan(at + skip, Other).ToArray();
                for (var i = 0; i < Other; i++)
                {
                    var part = Math.Min(1, (Other - 1 - i) / 480.0);
                    sound[at + i] = (other[i] * part) + (sound[at + i] * (1 - part));
                }

                return ("pieces that do not meet", at, 1);
            }
        }
    }
}
