using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Proving;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Copies to listen to where they cannot be held to the byte: in a package of another machine.</summary>
public sealed class CopyProofTests(DemoSession demo)
{
    private DeliveryPlan Plan(ListeningForm form, Func<TrackChoice, bool> goes) => demo.Plan(p => p with
    {
        Mix = new MixChoices(Guide: true, Copies: ListeningCopies.All, CopyForm: form),
        Tracks = p.Tracks.Select(c => c.Treatment.IsPrint() && goes(c) ? c : c with { Treatment = Treatment.HoldBack }).ToValueArray(),
    });

    private List<ProofRow> Copies(string zip, DeliveryPlan plan) => [.. demo.Prove(PackageTamper.OfOtherMachine(zip), plan).Rows.Where(r => r.What == "copy against its file")];

    [Theory]
    [InlineData(ListeningForm.Ogg)]
    [InlineData(ListeningForm.Mp3)]
    public void Each_is_the_sound_of_its_file_in_every_second(ListeningForm form)
    {
        var plan = Plan(form, _ => true);
        using var package = PackageReader.Open(new DiskFile(demo.Build(plan)), "p.zip");
        FoundSound Open(PlannedFile file) => FoundSound.Open(package, file, demo.Folder, CancellationToken.None);
        foreach (var copy in plan.Files.Where(f => f.Kind == PlannedKind.ListeningCopy))
        {
            using var found = Open(copy);
            using var of = Open(plan.Files.First(f => f.Path == copy.Of));
            var row = CopyProof.Prove(copy, found.Sound.Source, of.Sound.Source, CancellationToken.None);
            Assert.True(row.Passed, row.ToString());
        }
    }

    [Theory]
    [InlineData(1, 48_000)]
    [InlineData(4000, 48_000)]
    [InlineData(2, 9_000_000)]
    public void A_file_of_another_form_in_place_of_the_mix_fails_and_is_read_no_further(int channels, int rate)
    {
        var preparation = Plan(ListeningForm.Ogg, c => c.TrackId == "piano").Preparation;
        var plan = demo.Plan(_ => preparation with { Mix = preparation.Mix with { Levels = true } });
        var layout = new PcmLayout(SampleEncoding.Integer16, false, channels, SampleRate.FromHz(rate), 0, 500);
        byte[] other = [.. WaveWriter.Head(layout), .. new byte[layout.DataBytes]];
        var zip = PackageTamper.With(demo.Build(plan), "guide_mix.ogg", b => [.. b[..^1], (byte)(b[^1] ^ 1)]);
        zip = PackageTamper.With(PackageTamper.With(zip, "_levels.csv", b => [.. b, .. "x\r\n"u8]), "guide_mix.wav", _ => other);
        var report = demo.Prove(PackageTamper.OfOtherMachine(zip), plan);
        Assert.False(report.Passed);
        Assert.Contains(report.Rows, r => r is { What: "levels of the files", Passed: false });
    }

    [Fact]
    public void One_of_another_mix_is_seen_though_it_is_as_long()
    {
        var plan = Plan(ListeningForm.Ogg, _ => true);
        var other = PackageTamper.Read(demo.Build(Plan(ListeningForm.Ogg, t => t.TrackId != "swell" && t.TrackId != plan.Preparation.Tracks[0].TrackId)), "guide_mix.ogg");
        var rows = Copies(PackageTamper.With(demo.Build(plan), "guide_mix.ogg", _ => other), plan);
        Assert.Contains(rows, r => !r.Passed && r.Subject.EndsWith("guide_mix.ogg", StringComparison.Ordinal));
    }
}
