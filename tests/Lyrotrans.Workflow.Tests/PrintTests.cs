using Lyrotrans.Audio.Instruments;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Demo;
using Lyrotrans.Files;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Every kind of print of the demo, built, read back and proved.</summary>
public class PrintTests(DemoSession demo)
{
    private static Preparation EveryKind(Preparation preparation, StemMaster master = StemMaster.Before) => AllPrinted.Of(preparation, master);

    [Theory]
    [InlineData(SoundContainer.Wav, SampleEncoding.Integer24)]
    [InlineData(SoundContainer.Wav, SampleEncoding.Float32)]
    [InlineData(SoundContainer.Wav, SampleEncoding.Integer32)]
    [InlineData(SoundContainer.Aiff, SampleEncoding.Integer24)]
    [InlineData(SoundContainer.Flac, SampleEncoding.Integer16)]
    public void Every_kind_of_print_passes_its_proof_and_the_stems_sum(SoundContainer container, SampleEncoding encoding)
    {
        var plan = demo.Plan(p => EveryKind(p) with { Container = container, Encoding = encoding, Overs = OversPolicy.Lower });
        var report = demo.Prove(demo.Build(plan), plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        var kinds = plan.Files.Select(f => f.Kind).ToHashSet();
        Assert.Superset(new HashSet<PlannedKind> { PlannedKind.FromZero, PlannedKind.Click, PlannedKind.Stem, PlannedKind.GuideMix, PlannedKind.ListeningCopy }, kinds);
        Assert.Contains(plan.Files, f => f.Path.EndsWith("_stand-in" + FileForm.ExtensionOf(container), StringComparison.Ordinal));
        Assert.Equal(4, plan.Files.Count(f => f.TrackId == "array"));
        Assert.Empty(report.Stems!.Bent);
        Assert.True(encoding == SampleEncoding.Integer16 ? report.Stems.WorstDb < -75 : report.Stems.WorstDb < -120, $"{report.Stems.WorstDb}");
        Assert.Equal((plan.Range.Length + plan.Session.Rate.HeaderHz - 1) / plan.Session.Rate.HeaderHz, report.Stems.PerSecondDb.Count);
    }

    [Fact]
    public void A_limiter_on_the_master_bends_the_sum_and_it_is_said_by_how_much()
    {
        var loud = demo.Plan(p => EveryKind(p, StemMaster.Through) with { Encoding = SampleEncoding.Float32 });
        var session = loud.Session with { Tracks = loud.Session.Tracks.Select(t => t.Kind == TrackKind.Master ? t with { Inserts = [new Insert("gain", [new Parameter("gain dB", 18)]), .. t.Inserts] } : t).ToValueArray() };
        var loaded = demo.Loaded with { Session = session };
        var plan = demo.Plan(p => EveryKind(p, StemMaster.Through) with { Encoding = SampleEncoding.Float32 }, loaded);
        var report = demo.Prove(demo.Build(plan, loaded), plan, loaded);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.Equal([new BentPath("limiter", "Master", true)], report.Stems!.Bent);
        Assert.True(report.Stems.MasterBends);
        Assert.True(report.Stems.WorstDb > -60, $"{report.Stems.WorstDb}");
        var before = demo.Plan(p => EveryKind(p) with { Encoding = SampleEncoding.Float32 }, loaded);
        Assert.True(demo.Prove(demo.Build(before, loaded), before, loaded).Stems!.WorstDb < -120);
    }

    [Theory]
    [InlineData(Treatment.PrintDry)]
    [InlineData(Treatment.PrintMixed)]
    public void A_file_for_each_channel_says_which_it_is(Treatment treatment)
    {
        var plan = demo.Plan(p => p with
        {
            Tracks = p.Tracks.Select(c => c with { Channels = DeliveredChannels.Separate, Treatment = c.TrackId is "horn-close" or "piano" or "array" ? treatment : c.Treatment == Treatment.Notes ? Treatment.NotesAndPrint : Treatment.HoldBack }).ToValueArray(),
        });
        var zip = demo.Build(plan);
        Assert.True(demo.Prove(zip, plan).Passed);
        var files = plan.Files.Where(f => f.IsSound).ToList();
        var names = files.Select(f => WaveReader.Read(new MemoryStream(PackageTamper.Read(zip, f.Path)), f.Path).Info.Single(i => i.Key == "INAM").Value).ToList();
        Assert.Distinct(names);
        Assert.Contains("Piano L", names);
        Assert.Contains(treatment == Treatment.PrintMixed ? "Array R" : "Array 4", names);
        Assert.Contains("Celesta R", names);
    }

    [Fact]
    public void The_same_bytes_on_one_thread_and_on_many()
    {
        var plan = demo.Plan(p => EveryKind(p));
        byte[] Build(int threads)
        {
            using var output = new MemoryStream();
            PackageBuilder.Build(plan, demo.Loaded.Media, output, DemoSession.Maker, _ => { }, CancellationToken.None, threads);
            return output.ToArray();
        }

        Assert.True(Build(1).AsSpan().SequenceEqual(Build(4)));
    }

    [Theory]
    [InlineData(StemMaster.Before)]
    [InlineData(StemMaster.Through)]
    public void A_return_that_several_prints_need_is_rendered_once_with_the_same_samples(StemMaster master)
    {
        // A bus with an effect that is late, fed by a return, which is printed in a file for each channel.
        var session = demo.Loaded.Session with
        {
            Tracks = [.. demo.Loaded.Session.Tracks.Select(t => t.Kind == TrackKind.Return ? t with { Output = "late" } : t),
                new Track { Id = "late", Name = "Late", Kind = TrackKind.Bus, Channels = 2, Pan = 0.3, Inserts = [new Insert("limiter", [])] }],
        };
        var plan = demo.Plan(p => EveryKind(p, master) with { Tracks = [.. EveryKind(p, master).Tracks.Select(c => c.TrackId == "late" ? c with { Treatment = Treatment.PrintMixed, Channels = DeliveredChannels.Separate } : c)] }, demo.Loaded with { Session = session });
        var scratch = Path.Combine(demo.Folder, Guid.NewGuid().ToString("N"));
        var opener = new MediaOpener(demo.Loaded.Media, plan.Session.Rate);
        using var notes = new NoteSoundFiles(new SoundFontSounds(), demo.Folder);
        var (alone, shared) = (new Printing(plan, opener, notes), new Printing(plan, opener, notes));
        var files = plan.Files.Where(f => f.IsSound).ToList();
        using (shared.ShareReturns(files, scratch, CancellationToken.None))
        {
            AtOnce.Each(files.Count, i => AssertSame(files[i], alone, shared), CancellationToken.None);
            var returns = session.Tracks.Count(t => t.Kind == TrackKind.Return && t.Inserts.Count > 0);
            Assert.True(returns > 0);
            Assert.InRange(Directory.GetFiles(scratch).Length, returns + 1, 2 * (returns + 1));
        }

        Assert.Empty(Directory.GetFiles(scratch));
    }

    private static void AssertSame(PlannedFile file, Printing alone, Printing shared)
    {
        using var one = alone.Open(file);
        using var two = shared.Open(file);
        var (a, b) = (Printing.Planar(file.Channels), Printing.Planar(file.Channels));
        for (long at = 0; at < file.Frames; at += Printing.Block)
        {
            var count = (int)Math.Min(Printing.Block, file.Frames - at);
            one.Read(at, count, a);
            two.Read(at, count, b);
            for (var c = 0; c < file.Channels; c++)
            {
                Assert.True(a[c].AsSpan(0, count).SequenceEqual(b[c].AsSpan(0, count)), $"{file.Path} from {at} on");
            }
        }
    }

    [Fact]
    public void A_print_turned_over_is_the_other_one_negated()
    {
        static Preparation Alone(Preparation p, bool inverted) => p with
        {
            Encoding = SampleEncoding.Integer24,
            Tracks = p.Tracks.Select(c => c.TrackId == "piano" ? c with { Inverted = inverted } : c with { Treatment = Treatment.HoldBack }).ToValueArray(),
        };
        var (plain, inverted) = (demo.Plan(p => Alone(p, false)), demo.Plan(p => Alone(p, true)));
        var path = demo.Build(inverted);
        Assert.True(demo.Prove(path, inverted).Passed);
        Assert.False(demo.Prove(path, plain).Passed);
        var opener = new MediaOpener(demo.Loaded.Media, plain.Session.Rate);
        using var notes = new NoteSoundFiles(new SoundFontSounds(), demo.Folder);
        using var one = new Printing(plain, opener, notes).Open(plain.Files.Single(f => f.Kind == PlannedKind.FromZero));
        using var two = new Printing(inverted, opener, notes).Open(inverted.Files.Single(f => f.Kind == PlannedKind.FromZero));
        var (a, b) = (Printing.Planar(2), Printing.Planar(2));
        one.Read(96_000, Printing.Block, a);
        two.Read(96_000, Printing.Block, b);
        Assert.Contains(a[0], v => v != 0);
        Assert.Equal(a.SelectMany(c => c.Select(v => -v)), b.SelectMany(c => c));
        using var package = PackageReader.Open(new DiskFile(path), "p.zip");
        Assert.Contains("polarity inverted", System.Text.Encoding.UTF8.GetString(package.Read($"{inverted.Root}/Session_sheet.html")));
    }

    [Fact]
    public void A_stem_that_lacks_a_track_fails()
    {
        var plan = demo.Plan(p => EveryKind(p));
        var without = demo.Plan(p => EveryKind(p) with { Tracks = EveryKind(p).Tracks.Select(c => c.TrackId == "piano" ? c with { Group = "Voice" } : c).ToValueArray() });
        var report = demo.Prove(demo.Build(without), plan);
        Assert.False(report.Passed);
        Assert.Contains(report.Rows, r => !r.Passed && r.Subject == "Stem Voice");
    }

    [Fact]
    public void What_is_copied_as_bytes_and_what_is_computed_are_the_same()
    {
        var plan = demo.Plan();
        var opener = new MediaOpener(demo.Loaded.Media, plan.Session.Rate);
        using var notes = new NoteSoundFiles(new SoundFontSounds(), demo.Folder);
        var printing = new Printing(plan, opener, notes);
        foreach (var file in plan.Files.Where(f => f.Kind == PlannedKind.FromZero))
        {
            var rule = printing.RuleOf(file);
            var layout = new PcmLayout(SampleEncoding.Integer24, false, file.Channels, plan.Session.Rate, 0, file.Frames);
            using var one = printing.Open(file);
            using var two = printing.Open(file);
            var (copied, computed) = (new PrintBytes(one, layout, rule), new PrintBytes(two, layout, rule));
            for (long at = 0; at < file.Frames; at += Printing.Block)
            {
                var count = (int)Math.Min(Printing.Block, file.Frames - at);
                var (a, b) = (new byte[count * layout.BytesPerFrame], new byte[count * layout.BytesPerFrame]);
                copied.Fill(at, count, a);
                computed.Fill(at, count, b, needSamples: true);
                Assert.True(a.AsSpan().SequenceEqual(b), file.Path);
            }
        }
    }

    [Fact]
    public void Overs_are_kept_in_float_held_and_said_in_integers_or_all_lowered_alike()
    {
        // The demo's swell is louder than full scale.
        static Preparation Swell(Preparation p) => p with { Tracks = p.Tracks.Select(c => c.TrackId == "swell" || c.TrackId == "piano" ? c : c with { Treatment = Treatment.HoldBack }).ToValueArray() };
        var held = demo.Plan(Swell);
        var overs = Assert.Single(demo.Prove(demo.Build(held), held).Overs!);
        Assert.True(overs is { Samples: > 0, PeakDb: > 0 });
        Assert.Contains("Swell", overs.Path);

        var kept = demo.Plan(p => Swell(p) with { Encoding = SampleEncoding.Float32 });
        Assert.Empty(demo.Prove(demo.Build(kept), kept).Overs!);

        var lowered = demo.Plan(p => Swell(p) with { Overs = OversPolicy.Lower });
        var path = demo.Build(lowered);
        var report = demo.Prove(path, lowered);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(5)));
        Assert.Empty(report.Overs!);
        using var package = PackageReader.Open(new DiskFile(path), "p.zip");
        Assert.InRange(package.Manifest.LoweredDb, -overs.PeakDb - 0.21, -overs.PeakDb - 0.09);
        Assert.Contains("lowered by", System.Text.Encoding.UTF8.GetString(package.Read($"{lowered.Root}/Session_sheet.html")));
    }

    [Fact]
    public void Tails_are_inside_the_files_up_to_a_limit_that_is_said()
    {
        var dry = demo.Plan();
        var wet = demo.Plan(p => EveryKind(p));
        var reverb = (long)(((2 * 2.8) + 0.1 + 0.022) * 48_000);
        Assert.InRange(wet.Range.Length - dry.Range.Length, reverb - 48_000, reverb + (8 * 48_000));
        Assert.Equal(0, wet.CutTail);
        var cut = demo.Plan(p => EveryKind(p) with { LongestTail = 48_000 });
        Assert.True(cut.CutTail > 0);
        Assert.True(cut.Range.Length < wet.Range.Length);

        // The last tenth of a second of what was rendered whole is 120 dB down.
        var opener = new MediaOpener(demo.Loaded.Media, wet.Session.Rate);
        using var notes = new NoteSoundFiles(new SoundFontSounds(), demo.Folder);
        using var hall = new Printing(wet, opener, notes).Open(wet.Files.First(f => f.TrackId == "long-hall"));
        var samples = Printing.Planar(2);
        hall.Read(wet.Range.Length - wet.Preparation.Tail - 4800, 4800, samples);
        Assert.All(samples[0][..4800], v => Assert.True(Math.Abs(v) < 1e-6));
    }

    [Fact]
    public void What_is_printed_sounds_by_its_print_in_the_record_and_was_silenced_in_packages_of_before()
    {
        var plan = demo.Plan(p => EveryKind(p));
        var delivered = plan.DeliveredSession().Tracks.ToDictionary(t => t.Id);
        Assert.Contains(delivered.Values, t => t.Kind == TrackKind.Print && t.Of.SequenceEqual(["double-bass"]));

        // Its notes are the record of it, and a stand-in is none.
        Assert.DoesNotContain(delivered.Values, t => t.Of.Contains("celesta"));
        Assert.All(["double-bass", "celesta", "bass-drum"], id => Assert.Equal(TrackState.Active, delivered[id].State));

        var before = plan.EarlierRecord().Tracks.ToDictionary(t => t.Id);
        Assert.Equal(TrackState.Muted, before["double-bass"].State);
        Assert.Equal(TrackState.Muted, before["celesta"].State);
        Assert.Equal(TrackState.Active, before["bass-drum"].State);
    }

    [Fact]
    public void Tracks_in_a_circle_stop_a_mix_before_it_is_built()
    {
        var session = demo.Loaded.Session;
        var round = demo.Loaded with { Session = session with { Tracks = session.Tracks.Select(t => t.Id == "long-hall" ? t with { Sends = [new Send("echo-wall", -6)] } : t.Id == "echo-wall" ? t with { Sends = [new Send("long-hall", -6)] } : t).ToValueArray() } };
        Assert.Null(demo.Plan(null, round).Problem);
        Assert.Contains("Long hall", demo.Plan(p => EveryKind(p), round).Problem);
    }
}
