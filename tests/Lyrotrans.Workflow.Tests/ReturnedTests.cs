using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Returning;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Files that come back in every way that people send them back, held to what was sent; whatever is called sure is right.</summary>
public sealed class ReturnedTests : IDisposable
{
    private const int Hz = 48_000;
    private const double Seconds = 14;
    private const int Parts = 5;
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-returned-").FullName;
    private readonly List<PlayedPart> _parts = [.. Enumerable.Range(0, Parts).Select(i => new PlayedPart(100 + i, Seconds))];

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static int Length(double seconds) => (int)(seconds * Hz);

    private SoundFileOf File(string name, double[] samples, int hz = Hz, string within = "back")
    {
        var path = Path.Combine(Directory.CreateDirectory(Path.Combine(_folder, within)).FullName, $"{name}.wav");
        using (var file = new BinaryWriter(System.IO.File.Create(path)))
        {
            file.Write(WaveWriter.Head(new PcmLayout(SampleEncoding.Float32, false, 1, SampleRate.FromHz(hz), 0, samples.Length)));
            foreach (var sample in samples)
            {
                file.Write((float)sample);
            }
        }

        return new SoundFileOf(name, new DiskFile(path));
    }

    private SentPackage Sent(IEnumerable<PlayedPart>? parts = null, double seconds = Seconds) => SentAs([.. (parts ?? _parts).Select(p => p.Play(0, 1.0 / Hz, Length(seconds)))]);

    private SentPackage SentAs(params double[][] sounds)
    {
        foreach (var (samples, i) in sounds.Select((s, i) => (s, i)))
        {
            File($"part {i}", samples, within: "sent");
        }

        return SentPackage.Whole(LoadedSide.Load(Path.Combine(_folder, "sent"), Path.Combine(_folder, "scratch")));
    }

    private static IReadOnlyList<CameBack> Look(SentPackage sent, params SoundFileOf[] back) => Returned.Look(sent, back, _ => { }, CancellationToken.None);

    private double[] Played(int part, double startSample, double speed = 1, double seconds = Seconds) => _parts[part].Play(startSample / Hz, speed / Hz, Length(seconds));

    private static double[] Noise(int count, int seed, double level)
    {
        var random = new Random(seed);
        return [.. Enumerable.Range(0, count).Select(_ => level * Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble()))];
    }

    private static double Rms(double[] samples) => Math.Sqrt(samples.Average(s => s * s));

    private static double[] Sum(double[] a, double[] b) => [.. a.Zip(b, (x, y) => x + y)];

    [Fact]
    public void A_part_that_comes_back_as_it_went_later_softer_or_inverted_is_known_with_its_place()
    {
        var found = Look(
            Sent(),
            File("as it went", Played(1, 0)),
            File("padded", Played(2, -4800)),
            File("softer and inverted", [.. Played(3, 0).Select(s => -0.5 * s)]),
            File("cut", Played(0, 96_000, 1, 8)),
            File("between samples", Played(4, 100.4)));
        Assert.Equal(["part 1", "part 2", "part 3", "part 0", "part 4"], found.Select(f => f.Parts[0].Name));
        Assert.All(found, f => Assert.True(f.IsSure, f.Verdict));
        Assert.All(new[] { 0, -4800, 0, 96_000, 100.4 }.Zip(found), p => Assert.Equal(p.First, p.Second.Start, 0.1));
        Assert.Equal(-6.02, found[2].Parts[0].GainDb, 0.1);
        Assert.True(found[2].IsInverted && !found[0].IsInverted);
        Assert.Equal("Of part 1, from the same start.", found[0].Verdict);
        Assert.Contains("Cut at its beginning: ", found[3].Verdict, StringComparison.Ordinal);
        Assert.Contains("Cut at its end: ", found[3].Verdict, StringComparison.Ordinal);
        Assert.All(found, f => Assert.Equal(0, f.DriftPpm));
    }

    [Fact]
    public void Noise_as_loud_a_filter_and_a_compressor_leave_it_at_its_place()
    {
        var dry = Played(1, 3000);
        var filtered = dry.ToArray();
        for (var i = 1; i < filtered.Length; i++)
        {
            filtered[i] = (0.3 * dry[i]) + (0.7 * filtered[i - 1]);
        }

        var found = Look(Sent(), File("noisy", Sum(dry, Noise(dry.Length, 5, Rms(dry)))), File("darker", filtered), File("squeezed", [.. dry.Select(s => Math.Tanh(12 * s) / 3)]));
        Assert.All(found, f => Assert.Equal("part 1", f.Parts[0].Name));
        Assert.Equal(3000, found[0].Start, 1.0);
        Assert.Equal(3000, found[1].Start, 24.0);
        Assert.Equal(3000, found[2].Start, 24.0);
    }

    [Fact]
    public void What_lies_anywhere_is_known_by_landmarks_that_were_kept_as_by_those_that_are_made()
    {
        const double Long = 70, From = 17.3;
        var parts = Enumerable.Range(0, 3).Select(i => new PlayedPart(700 + i, Long)).ToList();
        var sent = Sent(parts, Long);
        SoundFileOf[] back =
        [
            File("from somewhere", Sum(parts[1].Play(From, 1.0 / Hz, Length(45)), Noise(Length(45), 8, 0.01))),
            File("fast", parts[2].Play(0, 160.0 / 147 / Hz, Length(60))),
            File("new", new PlayedPart(799, 60).Play(0, 1.0 / Hz, Length(60))),
        ];
        using var kept = new MemoryStream();
        SentMarks.Of(sent, _ => { }, CancellationToken.None).Write(kept);
        kept.Position = 0;
        var found = Returned.Look(sent, back, _ => { }, CancellationToken.None, SentMarks.Read(kept));
        Assert.Equal(("part 1", true), (found[0].Parts[0].Name, found[0].IsSure));
        Assert.Equal(From * Hz, found[0].Start, 1.0);
        Assert.Equal(("part 2", true, new Rational(147, 160)), (found[1].Parts[0].Name, found[1].IsSure, found[1].Mistake!.Factor));
        Assert.Equal(CameBackKind.New, found[2].Kind);
        Assert.Equal(Look(sent, back).Select(f => f.Verdict), found.Select(f => f.Verdict));

        // Those of something else say nothing of this.
        var other = new MemoryStream();
        foreach (var file in Directory.EnumerateFiles(Path.Combine(_folder, "sent")).Skip(1).ToList())
        {
            System.IO.File.Delete(file);
        }

        SentMarks.Of(SentPackage.Whole(LoadedSide.Load(Path.Combine(_folder, "sent"), Path.Combine(_folder, "scratch"))), _ => { }, CancellationToken.None).Write(other);
        Sent(parts, Long);
        other.Position = 0;
        Assert.Equal(found[0].Verdict, Returned.Look(sent, back[..1], _ => { }, CancellationToken.None, SentMarks.Read(other))[0].Verdict);
        foreach (var length in new[] { 0, 3, 7, 40, (int)kept.Length - 1 })
        {
            Assert.Null(SentMarks.Read(new MemoryStream(kept.ToArray()[..length])));
        }
    }

    [Theory]
    [InlineData(37)]
    [InlineData(-120)]
    public void Drift_is_known_to_one_millionth_over_a_minute(int ppm)
    {
        var part = new PlayedPart(321, 60);
        var found = Look(Sent([part, new PlayedPart(322, 60)], 60), File("drifting", part.Play(1500.0 / Hz, (1 + (ppm / 1e6)) / Hz, Length(58))))[0];
        Assert.Equal("part 0", found.Parts[0].Name);
        Assert.True(found.IsSure, found.Verdict);
        Assert.Equal(ppm, found.DriftPpm, 1.0);
        Assert.Equal(1500, found.Start, 1.0);
    }

    [Fact]
    public void At_its_truedrate_what_drifted_drifts_no_more_to_its_last_sample()
    {
        const double Drift = 80e-6;
        var part = new PlayedPart(411, 40);
        var sent = Sent([part], 40);
        var played = part.Play(0, (1 + Drift) / Hz, Length(38));
        var row = CameBackRow.Of(Guid.Empty, Look(sent, File("drifting", played))[0], sent);
        Assert.True(row.IsSure && row.DriftPpm != 0, row.Verdict);
        var rate = SoundFileFacts.RateOf(row.TrueRate!);
        using var trued = new ConvertedSource(new HeldSound(played, rate), SampleRate.Hz48000);
        var steady = new[] { new double[(int)trued.Length] };
        trued.Read(0, steady[0].Length, steady);
        var original = part.Play(0, 1.0 / Hz, steady[0].Length);

        // Of the last seconds what is left of the difference is what half a sample is worth.
        var (left, all) = (0.0, 0.0);
        for (var i = steady[0].Length - (3 * Hz); i < steady[0].Length - Hz; i++)
        {
            left += Math.Pow(steady[0][i] - original[i + (int)row.Sample!.Value], 2);
            all += original[i] * original[i];
        }

        Assert.True(left < 0.02 * all, $"{left} of {all}");
        Assert.Equal(0, Look(sent, File("steady", steady[0]))[0].DriftPpm);
    }

    private sealed class HeldSound(double[] samples, SampleRate rate) : ISampleSource
    {
        public int Channels => 1;

        public long Length => samples.Length;

        public SampleRate Rate => rate;

        public void Read(long start, int count, double[][] into)
        {
            for (var i = 0; i < count; i++)
            {
                into[0][i] = start + i >= 0 && start + i < samples.Length ? samples[start + i] : 0;
            }
        }

        public void Dispose()
        {
        }
    }

    [Theory]
    [InlineData(44_100, 48_000, "44 100 Hz are said to be of 48 000 Hz")]
    [InlineData(48_000, 44_100, "48 000 Hz are said to be of 44 100 Hz")]
    public void Samples_that_are_said_to_be_of_another_rate_are_known(int taken, int said, string words)
    {
        var found = Look(Sent(), File("wrong", _parts[2].Play(0, 1.0 / taken, (int)(Seconds * taken)), said))[0];
        Assert.Equal("part 2", found.Parts[0].Name);
        Assert.Contains(words, found.Verdict.Replace(' ', ' '), StringComparison.Ordinal);
        Assert.Equal(0, found.Start, 2.0);
    }

    [Fact]
    public void What_is_pulled_down_is_known_and_not_taken_for_drift()
    {
        var found = Look(Sent(), File("pulled", Played(1, 0, 1000.0 / 1001)))[0];
        Assert.Equal("part 1", found.Parts[0].Name);
        Assert.True(found.Verdict.Contains("1000/1001", StringComparison.Ordinal) || Math.Abs(found.DriftPpm + 999) < 3, found.Verdict);
    }

    [Fact]
    public void A_new_part_silence_a_mix_and_what_is_no_sound_are_told_apart()
    {
        var mix = _parts.Select(p => p.Play(0, 1.0 / Hz, Length(Seconds))).Aggregate(Sum);
        var none = Path.Combine(_folder, "none.wav");
        System.IO.File.WriteAllText(none, "no sound");
        var found = Look(Sent(), File("new", new PlayedPart(999, Seconds).Play(0, 1.0 / Hz, Length(Seconds))), File("silent", new double[Hz]), File("mix", mix), new SoundFileOf("none.wav", new DiskFile(none)), File("empty", []));
        Assert.Equal([CameBackKind.New, CameBackKind.Silent, CameBackKind.Mix, CameBackKind.Unread], found.Take(4).Select(f => f.Kind));
        Assert.Equal(Parts, found[2].Parts.Count);
        Assert.All(found[2].Parts, p => Assert.Equal(0, p.GainDb, 0.1));
        Assert.NotEqual(CameBackKind.Known, found[4].Kind);
    }

    [Fact]
    public void Where_it_is_another_sound_for_a_while_is_said()
    {
        var (part, other) = (Played(1, 0), new PlayedPart(777, Seconds).Play(0, 1.0 / Hz, Length(Seconds)));
        var mended = part.Select((s, i) => i is > 5 * Hz and < 7 * Hz ? other[i] : s).ToArray();
        var found = Look(Sent(), File("mended", mended))[0];
        Assert.Equal("part 1", found.Parts[0].Name);
        Assert.True(System.Text.RegularExpressions.Regex.IsMatch(found.Verdict, "It is another sound from [45]\\.\\d s to [67]\\.\\d s\\."), found.Verdict);
    }

    [Fact]
    public void Nothing_that_is_called_sure_is_wrong_in_many_random_cases()
    {
        var (sent, random, cases) = (Sent(), new Random(17), new List<(SoundFileOf File, int? Part, double Start)>());
        for (var i = 0; i < 12; i++)
        {
            var (part, start, fresh) = (random.Next(Parts), random.Next(-20_000, 300_000), i % 6 == 5);
            var sound = fresh ? new PlayedPart(5000 + i, 6).Play(0, 1.0 / Hz, Length(6)) : Played(part, start, 1, 3 + (4 * random.NextDouble()));
            var gain = Math.Pow(10, ((random.NextDouble() * 24) - 12) / 20) * (random.Next(2) == 0 ? -1 : 1);
            var treated = (i % 4) switch { 1 => Sum(sound, Noise(sound.Length, i, Rms(sound))), 2 => Sum(sound, [.. new PlayedPart(7000 + i, 8).Play(0, 1.0 / Hz, sound.Length)]), _ => sound };
            cases.Add((File($"case {i}", [.. treated.Select(s => s * gain)]), fresh ? null : part, start));
        }

        var found = Look(sent, [.. cases.Select(c => c.File)]);
        foreach (var (one, i) in found.Select((f, i) => (f, i)).Where(f => f.f is { IsSure: true, Kind: CameBackKind.Known }))
        {
            Assert.True(cases[i].Part is { } part && one.Parts[0].Name == $"part {part}" && Math.Abs(one.Start - cases[i].Start) <= 1, $"case {i}: {one.Verdict} {one.Start}, and it is of part {cases[i].Part} at {cases[i].Start}");
        }

        Assert.True(found.Zip(cases).Count(p => p.Second.Part is not null && p.First.IsSure) >= 7, string.Join("\n", found.Select(f => f.Verdict)));
    }

    /// <summary>Notes that are struck again and again, of few pitches, so that those of all parts are much alike.</summary>
    private static double[] Struck(int seed, double seconds)
    {
        var (random, result) = (new Random(seed), new double[Length(seconds)]);
        for (var at = 0; at < result.Length; at += (int)(Hz * (0.3 + (0.5 * random.NextDouble()))))
        {
            var (hz, decay, level) = (220 * Math.Pow(2, random.Next(8) / 12.0), 0.05 + (0.3 * random.NextDouble()), 0.1 + (0.2 * random.NextDouble()));
            for (var i = 0; i < Hz && at + i < result.Length; i++)
            {
                result[at + i] += level * Math.Exp(-i / (decay * Hz)) * Enumerable.Range(1, 4).Sum(k => Math.Sin(2 * Math.PI * hz * k * i / Hz) / k);
            }
        }

        return result;
    }

    [Fact]
    public void A_note_or_two_are_sure_only_where_nothing_else_that_was_sent_is_as_much_like_them()
    {
        var sent = Enumerable.Range(0, 4).Select(i => Struck(40 + i, 20)).ToArray();
        var (random, cases) = (new Random(8), new List<(SoundFileOf File, int? Part, int Start)>());
        for (var i = 0; i < 16; i++)
        {
            var (part, length, fresh) = (random.Next(4), Length(0.3 + (1.2 * random.NextDouble())), i % 3 == 2);
            var start = random.Next(Length(20) - length);
            cases.Add((File($"case {i:00}", fresh ? Struck(900 + i, 2)[..length] : [.. sent[part].AsSpan(start, length)]), fresh ? null : part, start));
        }

        var found = Look(SentAs(sent), [.. cases.Select(c => c.File)]);
        foreach (var (one, (_, part, start)) in found.Zip(cases).Where(f => f.First.IsSure))
        {
            Assert.True(part is not null && one.Parts[0].Name == $"part {part}" && Math.Abs(one.Start - start) <= 1, $"{one.Name}: {one.Verdict} {one.Start}, and it is of part {part} at {start}");
        }

        Assert.True(found.Zip(cases).Count(p => p.Second.Part is not null && p.First.IsSure) >= 8, string.Join("\n", found.Zip(cases).Select(f => $"{f.Second.Part} {f.Second.Start} {f.First.Name} {f.First.Verdict}")));
    }

    [Fact]
    public void A_sum_with_a_loop_lies_where_its_other_part_lies_and_a_loop_alone_is_never_sure()
    {
        // A bar of two seconds again and again, beside a part that is as loud.
        var (bar, other) = (Struck(3, 2), new PlayedPart(31, 40).Play(0, 1.0 / Hz, Length(40)));
        var level = Rms(other) / Rms(bar);
        var loop = Enumerable.Range(0, Length(40)).Select(i => bar[i % bar.Length] * level).ToArray();
        var (sent, random, cases) = (SentAs(other, loop), new Random(5), new List<(SoundFileOf File, int Start, bool Alone)>());
        for (var i = 0; i < 6; i++)
        {
            var (start, length) = (random.Next(Length(28)), Length(6 + (6 * random.NextDouble())));
            var (one, two) = (other[start..(start + length)], loop[start..(start + length)]);
            cases.Add((File($"case {i}", i % 3 == 2 ? two : Sum(one, two)), start, i % 3 == 2));
        }

        foreach (var (found, (_, start, alone)) in Look(sent, [.. cases.Select(c => c.File)]).Zip(cases))
        {
            Assert.True(found.IsSure != alone, $"{found.Name}: {found.Verdict}, {start}");
            Assert.True(alone || (found.Kind == CameBackKind.Mix && Math.Abs(found.Start - start) <= 1), $"{found.Name}: {found.Verdict}, {start}");
        }
    }

    [Fact]
    public void A_moment_of_a_note_is_not_sure_to_be_of_the_softer_one_that_is_nearly_the_same()
    {
        // All that sounds of it is 34 ms at its end, cut at its loudest: less is known of it by its sketch than by its samples.
        var sound = new double[Length(20)];
        foreach (var (at, level, decay) in new[] { (5.0, 0.4, 0.2), (12.0, 0.2, 0.21) })
        {
            for (var i = 0; i < Hz; i++)
            {
                sound[Length(at) + i] = level * Math.Min(1, i / 900.0) * Math.Exp(-i / (decay * Hz)) * Enumerable.Range(1, 5).Sum(k => Math.Sin(2 * Math.PI * 311 * k * i / Hz) / k);
            }
        }

        var found = Assert.Single(Look(SentAs(sound, Struck(9, 20)), File("moment", sound[(Length(5) - 14_400)..(Length(5) + 1616)])));
        Assert.True(!found.IsSure || Math.Abs(found.Start - (Length(5) - 14_400)) <= 1, $"{found.Verdict} {found.Start}");
        Assert.True(found.Explained > 0.99, $"{found.Explained}");
    }
}
