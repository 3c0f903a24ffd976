using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Files at other rates than the session's, and kinds of files each in a way of their own: built, proved and held against plain arithmetic.</summary>
public class DeliveredRateTests(DemoSession demo)
{
    private static readonly string[] s_standIns = ["instrument Celesta", "instrument Harp", "instrument Bass drum"];

    private static readonly string[] s_few = ["horn-close", "cello", "hall-l", "long-hall"];

    // A few tracks are enough for prints.
    private DeliveryPlan Plan(Func<Preparation, Preparation> change, Treatment treatment = Treatment.PrintDry) => demo.Plan(p => change(p with
    {
        ChosenEnd = 300_001,
        Tracks = [.. p.Tracks.Select(c => c with { Treatment = !s_few.Contains(c.TrackId) ? Treatment.HoldBack : c.TrackId == "long-hall" ? Treatment.PrintThrough : treatment })],
    }).Accepting(s_standIns));

    private ProofReport Passes(string zip, DeliveryPlan plan)
    {
        var report = demo.Prove(zip, plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        return report;
    }

    private static SoundHeader Header(string zip, PlannedFile file) => WaveReader.Read(new MemoryStream(PackageTamper.Read(zip, file.Path)), file.Path);

    private static double[] Samples(string zip, PlannedFile file)
    {
        var bytes = PackageTamper.Read(zip, file.Path);
        var layout = WaveReader.Read(new MemoryStream(bytes), file.Path).Layout;
        Assert.Equal(SampleEncoding.Float32, layout.Encoding);
        return [.. System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(bytes.AsSpan((int)layout.DataOffset, (int)layout.DataBytes)).ToArray().Select(s => (double)s)];
    }

    [Theory]
    [InlineData(44_100)]
    [InlineData(96_000)]
    public void Prints_stems_mixes_click_midi_and_places_go_at_the_delivered_rate_and_are_proved(int hz)
    {
        var plan = Plan(p => p with { Rate = hz, From = RangeStart.Chosen, ChosenStart = 12_345, Mix = new MixChoices(Stems: true, Guide: true, Finished: true, Levels: true, Sounding: MixSounding.WhatGoes), Click = p.Click with { Print = true, Midi = true } });
        var zip = demo.Build(plan);
        var report = Passes(zip, plan);
        Assert.Contains(report.Rows, r => r.Subject == "Converted prints");

        // Both ends by plain arithmetic, and the stamp: the session begins at ten o'clock.
        long At(long sample) => (long)Math.Round((decimal)sample * hz / 48_000, MidpointRounding.ToEven);
        foreach (var file in plan.Files.Where(f => f.IsSound && f.Kind != PlannedKind.FinishedMix))
        {
            var header = Header(zip, file);
            Assert.Equal((hz, At(300_001) - At(12_345)), (header.Layout.Rate.HeaderHz, header.Layout.Frames));
            Assert.Equal((36_000L * hz) + At(12_345), header.Broadcast!.TimeReference);
        }

        var sheet = System.Text.Encoding.UTF8.GetString(PackageTamper.Read(zip, "Session_sheet.html"));
        Assert.Contains($"New session at {Core.Naming.Digits.Grouped(hz)} Hz", sheet, StringComparison.Ordinal);
        Assert.Contains(hz == 96_000 ? "all lie on whole samples" : "by at most 0.", sheet, StringComparison.Ordinal);

        // The record stays as the session is.
        using var document = new MemoryStream(PackageTamper.Read(zip, ".session.json"));
        Assert.Equal(48_000, SessionDocumentReader.Read(document, "x").Rate.HeaderHz);

        // Another rate is another package.
        Assert.False(demo.Prove(zip, Plan(p => p with { Rate = hz == 96_000 ? 88_200 : 48_000, From = RangeStart.Chosen, ChosenStart = 12_345, Mix = plan.Preparation.Mix, Click = plan.Preparation.Click })).Passed);
    }

    [Fact]
    public void Every_second_sample_of_a_doubled_rate_is_the_one_that_was_there()
    {
        DeliveryPlan At(long? rate) => Plan(p => p with { Rate = rate, Encoding = SampleEncoding.Float32, Mix = new MixChoices(Guide: true) });
        var (once, twice) = (At(null), At(96_000));
        var (here, there) = (demo.Build(once), demo.Build(twice));
        foreach (var path in new[] { "01_Horn_close.wav", "guide_mix.wav" })
        {
            double[] plain = Samples(here, once.Files.Single(f => f.Path.EndsWith(path, StringComparison.Ordinal))), doubled = Samples(there, twice.Files.Single(f => f.Path.EndsWith(path, StringComparison.Ordinal)));
            Assert.Equal(plain.Length * 2, doubled.Length);
            Assert.True(plain.Max(Math.Abs) > 0.01);

            var channels = once.Files.Single(f => f.Path.EndsWith(path, StringComparison.Ordinal)).Channels;

            // What lies in the highest tenth of the band is not let through wholly: hard beginnings of sound have some of that.
            var rest = plain.Select((s, i) => doubled[(2 * (i - (i % channels))) + (i % channels)] - s).ToArray();
            Assert.True(rest.Sum(r => r * r) < 1e-6 * plain.Sum(s => s * s), $"{path}: {rest.Sum(r => r * r) / plain.Sum(s => s * s)}");
        }
    }

    [Theory]
    [InlineData("AAF", true)]
    [InlineData("OTIO", true)]
    [InlineData("OMF", false)]
    public void Clips_go_at_the_delivered_rate_with_their_media(string format, bool trimmed)
    {
        var clips = format switch { "AAF" => Choose.Aaf, "OMF" => Choose.Omf, _ => Choose.Otio } with { Trimmed = trimmed, Handle = 500 };
        var plan = Plan(p => p with { Rate = 44_100, Clips = clips }, Treatment.KeepClips);
        var zip = demo.Build(plan);
        Passes(zip, plan);
        Assert.Equal(44_100, plan.Clips!.Session.Rate.HeaderHz);
        Assert.All(plan.Clips.Media, m => Assert.Equal(44_100, m.Media.Rate.HeaderHz));
        var path = plan.Files.Single(f => f.Kind == PlannedKind.ClipFile).Path;
        using var stream = new MemoryStream(PackageTamper.Read(zip, path));
        var found = SessionDocuments.Open(stream, path).ReadSession().Session;
        Assert.Equal(44_100, found.Rate.HeaderHz);
        foreach (var (id, became) in plan.Clips.Tracks)
        {
            // On the nearest sample, by plain arithmetic.
            var here = plan.Session.Tracks.Single(t => t.Id == id).Sounding!.Clips;
            var there = plan.Clips.Session.Tracks.First(t => became.Contains(t.Id)).Sounding!.Clips;
            Assert.Equal(here.Select(c => (long)Math.Round(c.Start * 44_100m / 48_000, MidpointRounding.ToEven)), there.Select(c => c.Start));
        }
    }

    [Fact]
    public void Each_kind_of_files_goes_in_its_own_way_and_in_two_formats_with_one_sound()
    {
        var kinds = new KindChoices()
            .With(FileKind.Stems, new KindChoice { Rate = 44_100, Container = SoundContainer.Flac, Also = SoundContainer.Aiff, Range = FileRange.Bar1 })
            .With(FileKind.GuideMix, new KindChoice { Encoding = SampleEncoding.Integer16, Dither = DitherForm.Shaped, Also = SoundContainer.Flac, Range = FileRange.SessionStart })
            .With(FileKind.Returns, new KindChoice { Rate = 96_000, Encoding = SampleEncoding.Float32 });
        var plan = Plan(p => p with { From = RangeStart.Chosen, ChosenStart = 48_000, Kinds = kinds, Mix = new MixChoices(Stems: true, Guide: true, Finished: true, Sounding: MixSounding.WhatGoes) });
        var zip = demo.Build(plan);
        Passes(zip, plan);
        PlannedFile Of(PlannedKind kind, string ending) => plan.Files.First(f => f.Kind == kind && f.Path.EndsWith(ending, StringComparison.Ordinal));
        Assert.Equal((96_000, SampleEncoding.Float32), (Header(zip, Of(PlannedKind.FromZero, "Long_hall.wav")).Layout.Rate.HeaderHz, Header(zip, Of(PlannedKind.FromZero, "Long_hall.wav")).Layout.Encoding));
        Assert.Equal((300_001L, SampleEncoding.Integer16), (Header(zip, Of(PlannedKind.GuideMix, ".wav")).Layout.Frames, Header(zip, Of(PlannedKind.GuideMix, ".wav")).Layout.Encoding));
        Assert.Equal(300_001 - 48_000, Header(zip, Of(PlannedKind.FromZero, "Cello.wav")).Layout.Frames);
        Assert.Equal(SampleEncoding.Integer16, Of(PlannedKind.FinishedMix, ".wav").Made.Encoding);
        Assert.Equal((long)Math.Round((300_001m - plan.Session.Bar1Sample) * 44_100 / 48_000), Of(PlannedKind.Stem, ".flac").Frames, 1.0);
        Assert.Equal(plan.Files.Count(f => f.Kind == PlannedKind.Stem), plan.Files.Count(f => f.Kind == PlannedKind.SameSound && f.Path.EndsWith(".aif", StringComparison.Ordinal)));

        // One sample in the second format is seen.
        var twin = Of(PlannedKind.SameSound, ".aif");
        var report = demo.Prove(PackageTamper.With(zip, twin.Path, bytes =>
        {
            bytes[^1000] ^= 1;
            return bytes;
        }), plan);
        Assert.Contains(report.Rows, r => !r.Passed && r.What.StartsWith("same sound as", StringComparison.Ordinal));
    }

    [Fact]
    public void A_finished_mix_goes_from_its_first_sound_to_its_last_through_the_master()
    {
        var plan = demo.Plan(p => p with { Tracks = [.. p.Tracks.Select(c => c with { Treatment = c.TrackId == "narrator" ? Treatment.PrintDry : Treatment.HoldBack })], Encoding = SampleEncoding.Float32, Kinds = new KindChoices().With(FileKind.FinishedMix, new KindChoice { Encoding = SampleEncoding.Float32 }), Mix = new MixChoices(Guide: true, Finished: true, Master: StemMaster.Through, Sounding: MixSounding.WhatGoes) });
        var zip = demo.Build(plan);
        Passes(zip, plan);
        var (file, guide) = (plan.Files.Single(f => f.Kind == PlannedKind.FinishedMix), plan.Files.Single(f => f.Kind == PlannedKind.GuideMix));
        Assert.True(file.Span.Start > 0 && file.Span.End < guide.Span.End, $"{file.Span} {guide.Span}");
        double[] mix = Samples(zip, file), whole = Samples(zip, guide);

        // The same samples as in the guide mix through the master, and nothing to be heard outside.
        Assert.Equal(whole.Skip((int)file.Span.Start * 2).Take(mix.Length), mix);
        Assert.True(whole.Take((int)file.Span.Start * 2).All(s => Math.Abs(s) < 1e-5) && whole.Skip((int)file.Span.End * 2).All(s => Math.Abs(s) < 1e-5));
        Assert.Contains(mix.Take(2 * 4800), s => Math.Abs(s) > 1e-5);
    }

    [Fact]
    public void What_a_format_or_a_converter_cannot_hold_is_said_and_nothing_is_built()
    {
        foreach (var (kinds, rate, words) in new (KindChoices, long?, string)[]
        {
            (new KindChoices().With(FileKind.Tracks, new KindChoice { Container = SoundContainer.Flac, Encoding = SampleEncoding.Float32 }), null, "FLAC does not hold 32 bit float"),
            (new KindChoices().With(FileKind.Tracks, new KindChoice { Also = SoundContainer.Aiff, Encoding = SampleEncoding.Float32 }), null, "AIFF does not hold 32 bit float"),
            (new KindChoices().With(FileKind.Tracks, new KindChoice { Container = SoundContainer.Flac, Rate = 768_000 }), null, "FLAC holds rates up to"),
            (new KindChoices().With(FileKind.Tracks, new KindChoice { Range = FileRange.Bar1 }), null, "would cover nothing"),
        })
        {
            var plan = Plan(p => p with { Kinds = kinds, Rate = rate, ChosenEnd = words.Contains("nothing", StringComparison.Ordinal) ? demo.Loaded.Session.Bar1Sample : 300_001 });
            Assert.Contains(words, plan.Problem ?? string.Empty, StringComparison.Ordinal);
            Assert.Throws<Core.Errors.BadInputException>(() => demo.Build(plan));
        }

        var far = DeliveryPlan.Make(demo.Loaded.Session with { Rate = new SampleRate(8_000_000) }, Preparation.Default(demo.Loaded.Session, demo.Plan().Preparation.Clips.Format) with { Rate = 8000 }, new Dictionary<string, MediaSound>());
        Assert.Contains("cannot be converted", far.Problem ?? string.Empty, StringComparison.Ordinal);
    }
}
