using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A track in several forms together, prints without some effects or without pan, stems alone and dry stems: built, proved, and held against plain arithmetic.</summary>
public class BeneathTests(DemoSession demo)
{
    private static readonly string[] s_standIns = ["instrument Celesta", "instrument Harp", "instrument Bass drum"];

    // A mono track with an amplifier, at a level and a pan of its own.
    private Track Voice => Loaded.Session.Tracks.Single(t => t.Id == "double-bass");

    private Lyrotrans.Workflow.Intake.LoadedSession Loaded => demo.Loaded with
    {
        Session = demo.Loaded.Session with { Tracks = [.. demo.Loaded.Session.Tracks.Select(t => t.Id == "double-bass" ? t with { FaderDb = -4.5, Pan = -0.3 } : t)] },
    };

    private DeliveryPlan Plan(Func<TrackChoice, TrackChoice> voice, Func<Preparation, Preparation>? change = null, string? other = null) => demo.Plan(p => (change ?? (x => x))(p with
    {
        Encoding = SampleEncoding.Float32,
        ChosenEnd = 250_000,
        Mix = new MixChoices(Guide: true, Sounding: MixSounding.WhatGoes),
        Tracks = [.. p.Tracks.Select(c => c.TrackId == Voice.Id ? voice(c with { Treatment = Treatment.PrintThrough }) : c with { Treatment = c.TrackId == other ? Treatment.PrintDry : Treatment.HoldBack })],
    }).Accepting(s_standIns), Loaded);

    private DeliveryPlan Alone(Treatment treatment, params string[] without) => Plan(c => c with { Treatment = treatment, Without = [.. without] });

    private string Proved(DeliveryPlan plan)
    {
        Assert.Null(plan.Problem);
        var zip = demo.Build(plan, Loaded);
        var report = demo.Prove(zip, plan, Loaded);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Take(10)));
        Assert.Equal(0, CarryPlan.Of(plan).LostWithoutAWord);
        return zip;
    }

    private static float[] Samples(string zip, PlannedFile file)
    {
        var bytes = PackageTamper.Read(zip, file.Path);
        var layout = WaveReader.Read(new MemoryStream(bytes), file.Path).Layout;
        return System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(bytes.AsSpan((int)layout.DataOffset, (int)layout.DataBytes)).ToArray();
    }

    private static PlannedFile Only(DeliveryPlan plan, PlannedKind kind = PlannedKind.FromZero) => plan.Files.Single(f => f.Kind == kind);

    private static PlannedFile FileOf(DeliveryPlan plan, Treatment treatment) => plan.Files.Single(f => f.Kind == PlannedKind.FromZero && plan.Preparation.Tracks.Single(c => c.TrackId == f.TrackId).Treatment == treatment);

    private float[] Print(Treatment treatment, params string[] without) => Alone(treatment, without) is var plan ? Samples(Proved(plan), Only(plan)) : [];

    [Fact]
    public void A_track_goes_in_every_form_at_once_and_one_of_them_sounds()
    {
        Treatment[] further = [Treatment.PrintDry, Treatment.PrintLevel, Treatment.PrintMixed, Treatment.KeepClips];
        var plan = Plan(c => c with { Beneath = [.. further.Select(t => new BeneathChoice(t, t == Treatment.PrintDry ? "plain" : null))] });
        var zip = Proved(plan);

        // Each form is the very file that it would be alone, and the mix is that of one of them.
        foreach (var treatment in further.Where(t => t.IsPrint()).Append(Treatment.PrintThrough))
        {
            Assert.Equal(Print(treatment), Samples(zip, FileOf(plan, treatment)));
        }

        Assert.Contains("plain", FileOf(plan, Treatment.PrintDry).Path, StringComparison.Ordinal);
        var once = Alone(Treatment.PrintThrough);
        Assert.Equal(Samples(demo.Build(once, Loaded), Only(once, PlannedKind.GuideMix)), Samples(zip, Only(plan, PlannedKind.GuideMix)));

        // In the record they lie muted beneath; the objects are those of the session.
        using var document = new MemoryStream(PackageTamper.Read(zip, ".session.json"));
        var record = SessionDocumentReader.Read(document, "x");
        var forms = record.Tracks.Where(t => !t.Kind.HasRole() && t.Id.StartsWith($"{Voice.Id}~", StringComparison.Ordinal)).ToList();
        Assert.Equal(further.Length, forms.Count);
        Assert.All(forms, t => Assert.True(t.State == TrackState.Muted && t.Name.StartsWith(Voice.Name, StringComparison.Ordinal)));
        Assert.Equal(CarryPlan.Of(once).Rows.Single(r => r.Kind == "Clip positions").Objects.Count, CarryPlan.Of(plan).Rows.Single(r => r.Kind == "Clip positions").Objects.Count);
        var sheet = System.Text.Encoding.UTF8.GetString(PackageTamper.Read(zip, "Session_sheet.html"));
        Assert.Contains($"muted beneath: {Voice.Name} sounds as print through", sheet, StringComparison.Ordinal);
        Assert.Contains("without its pan", sheet, StringComparison.Ordinal);

        // A package with one form less is another.
        Assert.False(demo.Prove(zip, once, Loaded).Passed);
    }

    [Fact]
    public void Clips_beneath_go_in_a_file_of_their_own_or_muted_where_the_room_reads_that()
    {
        ReadOnlySpan<Track> Found(string zip, DeliveryPlan plan, int part)
        {
            var path = plan.Files.Single(f => f.Kind == PlannedKind.ClipFile && f.Part == part).Path;
            using var stream = new MemoryStream(PackageTamper.Read(zip, path));
            return SessionDocuments.Open(stream, path).ReadSession().Session.Tracks.AsSpan();
        }

        Preparation Clips(Preparation p, bool muted) => p with { Clips = Choose.Aaf, Sheet = new SheetTerms("Lantern House") { MutedClips = muted }, Tracks = [.. p.Tracks.Select(c => c.TrackId == "narrator" ? c with { Treatment = Treatment.KeepClips } : c)] };
        TrackChoice WithClips(TrackChoice c) => c with { Beneath = [new BeneathChoice(Treatment.KeepClips)] };

        var apart = Plan(WithClips, p => Clips(p, muted: false));
        var zip = Proved(apart);
        Assert.Equal(["", "beneath"], apart.ClipFiles.Select(p => p.Label));
        Assert.Contains(apart.Files, f => f.Path.EndsWith("_beneath.aaf", StringComparison.Ordinal));
        foreach (var track in Found(zip, apart, 1))
        {
            Assert.All(track.Sounding!.Clips, c => Assert.False(c.Muted));
        }

        var together = Plan(WithClips, p => Clips(p, muted: true));
        zip = Proved(together);
        var tracks = Found(zip, together, 0);
        Assert.Equal(2, tracks.Length);
        Assert.All(tracks[0].Sounding!.Clips.Concat(tracks[1].Sounding!.Clips).GroupBy(c => c.Muted), g => Assert.NotEmpty(g));
        Assert.Contains(tracks.ToArray(), t => t.Sounding!.Clips.All(c => c.Muted));
    }

    [Theory]
    [InlineData("AAF")]
    [InlineData("OTIO")]
    public void Each_stem_or_bus_has_an_edit_file_of_its_own_in_one_build(string format)
    {
        var clips = format == "AAF" ? Choose.Aaf : Choose.Otio;
        var plan = demo.Plan(p => p with { Clips = clips with { PerGroup = true, Trimmed = true }, Tracks = PreparationTreatment.OfAudio(p, Loaded.Session, Treatment.KeepClips) }, Loaded);
        Proved(plan);
        Assert.Equal(["Other tracks", "Strings"], plan.ClipFiles.Select(f => f.Label).Order(StringComparer.Ordinal));
        Assert.Equal(plan.Clips!.Session.Tracks.Select(t => t.Name).Order(StringComparer.Ordinal), plan.ClipFiles.SelectMany(f => f.Session.Tracks).Select(t => t.Name).Order(StringComparer.Ordinal));
        Assert.Contains(plan.Files, f => f.Path.EndsWith($"_Strings{clips.Format.Extension}", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("AAF")]
    [InlineData("OTIO")]
    public void A_room_that_wants_one_folder_gets_all_files_in_it(string format)
    {
        var clips = format == "AAF" ? Choose.Aaf : Choose.Otio;
        var plan = Plan(
            c => c with { Beneath = [new BeneathChoice(Treatment.KeepClips)] },
            p => p with { Clips = clips with { Media = Core.ClipFormats.ClipMediaForm.BesideWave, Trimmed = true }, Sheet = new SheetTerms("Lantern House") { Folders = FolderLayout.Flat }, Mix = new MixChoices(Stems: true, Guide: true, Copies: ListeningCopies.All) });
        var zip = Proved(plan);
        Assert.All(plan.Files, f => Assert.Equal(plan.Root.Length, f.Path.LastIndexOf('/')));
        Assert.Equal(plan.Files.Count, plan.Files.Select(f => f.Path.ToUpperInvariant()).Distinct().Count());
        var steps = System.Text.Encoding.UTF8.GetString(PackageTamper.Read(zip, "Session_sheet.html"));
        steps = steps[steps.IndexOf("In this order", StringComparison.Ordinal)..steps.IndexOf("Places to check by", StringComparison.Ordinal)];
        Assert.Contains($"Add {Path.GetFileName(plan.Files.Single(f => f.Kind == PlannedKind.FromZero).Path)} at the start", steps, StringComparison.Ordinal);
        Assert.All(new[] { "audio", "in stems", "in media", "mix/" }, folder => Assert.DoesNotContain(folder, steps, StringComparison.Ordinal));

        // An edit file finds its media where it lies.
        var path = plan.Files.Single(f => f.Kind == PlannedKind.ClipFile).Path;
        using var stream = new MemoryStream(PackageTamper.Read(zip, path));
        var media = SessionDocuments.Open(stream, path).ReadSession().Session.Media;
        Assert.All(media, m => Assert.Contains(plan.Files, f => f.Path == $"{plan.Root}/{m.FileName}"));
    }

    [Fact]
    public void A_print_at_its_level_is_the_print_through_effects_times_the_fader_and_stays_mono()
    {
        var (level, through) = (Print(Treatment.PrintLevel), Print(Treatment.PrintThrough));
        var gain = Math.Pow(10, Voice.FaderDb / 20);
        Assert.True(through.Max(Math.Abs) > 0.001);
        Assert.All(level.Zip(through), p => Assert.Equal(p.Second * gain, p.First, 1e-6));
    }

    [Fact]
    public void A_print_goes_through_the_effects_that_are_chosen_and_the_mix_through_all()
    {
        var names = PrintEffects.NamesOf(Voice);
        Assert.Equal(Print(Treatment.PrintDry), Print(Treatment.PrintThrough, [.. names]));
        Assert.NotEqual(Print(Treatment.PrintThrough), Print(Treatment.PrintThrough, names[0]));
        var (all, some) = (Alone(Treatment.PrintThrough), Alone(Treatment.PrintThrough, [.. names]));
        Assert.Equal(Samples(demo.Build(all, Loaded), Only(all, PlannedKind.GuideMix)), Samples(demo.Build(some, Loaded), Only(some, PlannedKind.GuideMix)));
    }

    [Fact]
    public void A_return_goes_wet_and_as_mixed_together()
    {
        const string Hall = "long-hall";
        DeliveryPlan Of(Treatment main, params Treatment[] beneath) => Plan(c => c, p => p with { Tracks = [.. p.Tracks.Select(c => c.TrackId == Hall ? c with { Treatment = main, Beneath = [.. beneath.Select(b => new BeneathChoice(b))] } : c)] }, other: "piano");
        var plan = Of(Treatment.PrintThrough, Treatment.PrintMixed);
        var (zip, alone) = (Proved(plan), Of(Treatment.PrintMixed));
        var file = plan.Files.Single(f => f.Kind == PlannedKind.FromZero && plan.Preparation.Tracks.Any(c => c.TrackId == f.TrackId && c.Of == Hall));
        var samples = Samples(zip, file);
        Assert.True(samples.Max(Math.Abs) > 1e-4);
        Assert.Equal(Samples(demo.Build(alone, Loaded), alone.Files.Single(f => f.TrackId == Hall)), samples);
    }

    [Fact]
    public void What_goes_in_its_stem_only_has_no_file_and_needs_stems()
    {
        var plan = Plan(c => c with { Treatment = Treatment.StemOnly }, p => p with { Mix = new MixChoices(Stems: true) }, other: "narrator");
        var zip = Proved(plan);
        Assert.DoesNotContain(plan.Files, f => f.TrackId == Voice.Id);
        Assert.Contains(plan.Files, f => f.Kind == PlannedKind.Stem && Samples(zip, f).Max(Math.Abs) > 1e-3);
        Assert.Equal(plan.Files.Select(f => f.Path), Plan(c => c with { Treatment = Treatment.StemOnly, Beneath = [new BeneathChoice(Treatment.PrintDry)] }, p => p with { Mix = new MixChoices(Stems: true) }, other: "narrator").Files.Select(f => f.Path));
        Assert.Contains("no stems go", Plan(c => c with { Treatment = Treatment.StemOnly }).Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void Dry_stems_have_levels_and_pans_and_no_effects()
    {
        var plan = Plan(c => c with { Group = "Voice" }, p => p with { Mix = new MixChoices(Stems: true) { DryStems = true } }, other: "narrator");
        var zip = Proved(plan);
        Assert.Equal(Print(Treatment.PrintMixed, [.. PrintEffects.NamesOf(Voice)]), Samples(zip, plan.Files.Single(f => f.Kind == PlannedKind.Stem && f.Group == "Voice")), (a, b) => Math.Abs(a - b) < 1e-6);
        Assert.False(demo.Prove(zip, Plan(c => c with { Group = "Voice" }, p => p with { Mix = new MixChoices(Stems: true) }, other: "narrator"), Loaded).Passed);
    }
}
