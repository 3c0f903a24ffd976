using System.Diagnostics;
using System.Globalization;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Channels and places of single kinds of files, bit rates of copies, and oversampling: built, proved and held against the usual files.</summary>
public class KindFormTests(DemoSession demo)
{
    private static readonly string[] s_few = ["horn-close", "piano", "hall-l", "long-hall", "double-bass"];

    private DeliveryPlan Plan(Func<Preparation, Preparation>? change = null) => demo.Plan(p =>
    {
        var few = p with
        {
            ChosenEnd = 200_001,
            Encoding = SampleEncoding.Float32,
            Mix = new MixChoices(Stems: true, Guide: true, Finished: true, Sounding: MixSounding.WhatGoes),
            Kinds = new KindChoices().With(FileKind.FinishedMix, new KindChoice { Range = FileRange.AllFiles, Encoding = SampleEncoding.Float32 }),
            Tracks = [.. p.Tracks.Select(c => c with { Treatment = !s_few.Contains(c.TrackId) ? Treatment.HoldBack : c.TrackId is "long-hall" or "double-bass" ? Treatment.PrintThrough : Treatment.PrintDry })],
        };
        return change?.Invoke(few) ?? few;
    });

    private static Preparation With(Preparation p, KindChoice choice, params FileKind[] kinds) => p with { Kinds = kinds.Aggregate(p.Kinds, (all, k) => all.With(k, p.Kinds[k] with { Channels = choice.Channels, Range = choice.Range ?? p.Kinds[k].Range, Start = choice.Start, End = choice.End })) };

    private string Proved(DeliveryPlan plan)
    {
        var zip = demo.Build(plan);
        var report = demo.Prove(zip, plan);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        return zip;
    }

    /// <summary>The samples of a file, channel by channel.</summary>
    private static float[][] Read(string zip, PlannedFile file)
    {
        var bytes = PackageTamper.Read(zip, file.Path);
        var layout = WaveReader.Read(new MemoryStream(bytes), file.Path).Layout;
        var all = System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(bytes.AsSpan((int)layout.DataOffset, (int)layout.DataBytes)).ToArray();
        Assert.Equal(file.Channels, layout.Channels);
        return [.. Enumerable.Range(0, layout.Channels).Select(c => all.Where((_, i) => i % layout.Channels == c).ToArray())];
    }

    private static PlannedFile File(DeliveryPlan plan, string ending) => plan.Files.Single(f => f.Path.EndsWith(ending, StringComparison.Ordinal));

    [Fact]
    public void Stems_and_mixes_go_a_file_a_channel_or_in_mono_and_the_stems_still_sum_to_the_mix()
    {
        var usual = Plan();
        var apart = Plan(p => With(p, new KindChoice { Channels = DeliveredChannels.Separate }, FileKind.Stems, FileKind.GuideMix));
        var mono = Plan(p => With(p, new KindChoice { Channels = DeliveredChannels.Mono }, FileKind.Stems, FileKind.FinishedMix));
        var (here, there, folded) = (Proved(usual), Proved(apart), Proved(mono));
        var stems = usual.Files.Where(f => f.Kind == PlannedKind.Stem).ToList();
        Assert.NotEmpty(stems);
        foreach (var file in stems.Append(usual.Files.Single(f => f.Kind == PlannedKind.GuideMix)))
        {
            var both = Read(here, file);
            Assert.Equal(both[0], Read(there, File(apart, file.Path[..^4] + "_L.wav"))[0]);
            Assert.Equal(both[1], Read(there, File(apart, file.Path[..^4] + "_R.wav"))[0]);
        }

        foreach (var file in stems.Append(usual.Files.Single(f => f.Kind == PlannedKind.FinishedMix)))
        {
            var both = Read(here, file);
            var mean = both[0].Zip(both[1], (l, r) => (l + (double)r) / 2).ToArray();
            Assert.All(Read(folded, File(mono, file.Path))[0].Zip(mean), s => Assert.Equal(s.Second, s.First, 1e-6));
        }

        // Both sums are measured, and both arrive.
        Assert.All(new[] { (there, apart), (folded, mono) }, p => Assert.InRange(demo.Prove(p.Item1, p.Item2).Stems!.WorstDb, double.NegativeInfinity, -120));
    }

    [Fact]
    public void A_kinds_channels_hold_for_rows_that_say_none_of_their_own()
    {
        var plan = Plan(p => With(p, new KindChoice { Channels = DeliveredChannels.Mono }, FileKind.Tracks) with { Click = p.Click with { Print = true } });
        var files = plan.Files.Where(f => f.Kind == PlannedKind.FromZero).ToDictionary(f => f.TrackId!, f => f.Channels);
        Assert.Equal((1, 1, 2), (files["piano"], files["horn-close"], files["long-hall"]));
        var own = Plan(p => With(p, new KindChoice { Channels = DeliveredChannels.Mono }, FileKind.Tracks) with { Tracks = [.. p.Tracks.Select(c => c.TrackId == "piano" ? c with { Channels = DeliveredChannels.Stereo } : c)] });
        Assert.Equal(2, own.Files.Single(f => f is { TrackId: "piano", Kind: PlannedKind.FromZero }).Channels);
        var wide = Plan(p => With(p, new KindChoice { Channels = DeliveredChannels.Stereo }, FileKind.Click) with { Click = p.Click with { Print = true } });
        var click = Read(Proved(wide), wide.Files.Single(f => f.Kind == PlannedKind.Click));
        Assert.Equal(click[0], click[1]);
        Assert.Contains(click[0], s => s != 0);
    }

    [Fact]
    public void A_kind_has_places_of_its_own_and_its_files_are_that_piece_of_the_usual_ones()
    {
        var usual = Plan();
        var own = Plan(p => With(p, new KindChoice { Range = FileRange.Chosen, Start = 30_000, End = 90_007 }, FileKind.Stems));
        var (here, there) = (Proved(usual), Proved(own));
        foreach (var file in usual.Files.Where(f => f.Kind == PlannedKind.Stem))
        {
            var (whole, piece) = (Read(here, file), Read(there, File(own, file.Path)));
            Assert.Equal(whole.Select(c => c[30_000..90_007]), piece);
        }

        Assert.Equal(usual.Files.Single(f => f is { TrackId: "piano", Kind: PlannedKind.FromZero }).Frames, own.Files.Single(f => f is { TrackId: "piano", Kind: PlannedKind.FromZero }).Frames);

        // One end alone; and a range of nothing is refused in words.
        Assert.Equal(200_001 - 30_000, Plan(p => With(p, new KindChoice { Range = FileRange.Chosen, Start = 30_000 }, FileKind.Stems)).Files.First(f => f.Kind == PlannedKind.Stem).Frames);
        var nothing = Plan(p => With(p, new KindChoice { Range = FileRange.Chosen, Start = 90_000, End = 90_000 }, FileKind.Stems));
        Assert.Contains("The files of stems would end at", nothing.Problem, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(ListeningForm.Mp3, 128)]
    [InlineData(ListeningForm.Mp3, 320)]
    [InlineData(ListeningForm.Ogg, 96)]
    [InlineData(ListeningForm.Ogg, 256)]
    public void Copies_have_the_bit_rate_that_was_chosen(ListeningForm form, int kilobits)
    {
        var plan = Plan(p => p with { Mix = p.Mix with { Copies = ListeningCopies.GuideMix, CopyForm = form, CopyRate = kilobits } });
        var path = Path.Combine(demo.Folder, $"{Guid.NewGuid():N}{(form == ListeningForm.Mp3 ? ".mp3" : ".ogg")}");
        System.IO.File.WriteAllBytes(path, PackageTamper.Read(Proved(plan), plan.Files.First(f => f.Kind == PlannedKind.ListeningCopy).Path));
        using var probe = Process.Start(new ProcessStartInfo("ffprobe", ["-v", "error", "-show_entries", "stream=bit_rate", "-of", "csv=p=0", path]) { RedirectStandardOutput = true })!;
        var said = int.Parse(probe.StandardOutput.ReadToEnd().Trim(), CultureInfo.InvariantCulture);
        probe.WaitForExit();

        // Ogg says its nominal rate, from a table that is finer than ours.
        Assert.InRange(said, kilobits * (form == ListeningForm.Mp3 ? 1000 : 970), kilobits * (form == ListeningForm.Mp3 ? 1000 : 1030));
    }

    [Fact]
    public void Effects_are_oversampled_as_is_chosen_and_the_record_says_what_the_session_does()
    {
        static Preparation All(Preparation p, int times) => p with { Oversampling = times };
        var usual = Plan();
        var (once, twice, four) = (Plan(p => All(p, 1)), Plan(p => All(p, 2)), Plan(p => All(p, 4)));
        var single = Plan(p => p with { Tracks = [.. p.Tracks.Select(c => c.TrackId == "double-bass" ? c with { Oversampled = [("drive and cabinet", 4)] } : c)] });
        float[] Bass(DeliveryPlan plan) => Read(Proved(plan), plan.Files.Single(f => f is { TrackId: "double-bass", Kind: PlannedKind.FromZero }))[0];
        var sounds = new[] { usual, once, twice, four, single }.Select(Bass).ToList();

        // The session says 2 of its drive.
        Assert.Equal(sounds[0], sounds[2]);
        Assert.Equal(sounds[3], sounds[4]);
        Assert.NotEqual(sounds[0], sounds[1]);
        Assert.NotEqual(sounds[0], sounds[3]);

        // As if the session said so itself.
        var said = demo.Loaded with { Session = demo.Loaded.Session with { Tracks = [.. demo.Loaded.Session.Tracks.Select(t => t.Id == "double-bass" ? t with { Inserts = [.. t.Inserts.Select(i => EffectOversampling.Has(i) ? i with { Parameters = [.. i.Parameters.Where(x => x.Name != "oversampling"), new Parameter("oversampling", 4)] } : i)] } : t)] } };
        var there = demo.Plan(_ => usual.Preparation, said);
        Assert.Equal(sounds[3], Read(demo.Build(there, said), there.Files.Single(f => f is { TrackId: "double-bass", Kind: PlannedKind.FromZero }))[0]);

        // Documents keep the session's word.
        var zip = demo.Build(four);
        using var document = new MemoryStream(PackageTamper.Read(zip, ".session.json"));
        Assert.Equal(2, EffectOversampling.Of(SessionDocumentReader.Read(document, "x").Tracks.Single(t => t.Id == "double-bass").Inserts[0]));
        Assert.Equal(PackageTamper.Read(demo.Build(usual), "_settings.csv"), PackageTamper.Read(zip, "_settings.csv"));
        Assert.False(demo.Prove(zip, usual).Passed);
    }

    [Fact]
    public void What_is_new_is_kept_in_documents_and_older_documents_stay_as_they_were()
    {
        var preparation = Plan(p => With(p, new KindChoice { Channels = DeliveredChannels.Separate, Range = FileRange.Chosen, Start = -5, End = 7 }, FileKind.Stems) with
        {
            Oversampling = 4,
            Mix = p.Mix with { CopyRate = 128 },
            Tracks = [.. p.Tracks.Select(c => c with { Oversampled = [("drive and cabinet", 1)] })],
        }).Preparation;
        var bytes = PreparationDocument.Write(preparation);
        Assert.Equal(preparation, PreparationDocument.Read(bytes, "p"));
        Assert.Contains("\"version\": 9", System.Text.Encoding.UTF8.GetString(bytes), StringComparison.Ordinal);
        Assert.Contains("\"version\": 8", System.Text.Encoding.UTF8.GetString(PreparationDocument.Write(Plan().Preparation)), StringComparison.Ordinal);
    }
}
