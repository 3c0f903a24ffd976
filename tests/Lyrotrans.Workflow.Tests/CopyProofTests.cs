using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Proving;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Copies to listen to where they cannot be held to the byte: in a package of another machine.</summary>
public sealed class CopyProofTests(DemoSession demo) : IClassFixture<DemoSession>
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

    [Fact]
    public void One_of_another_mix_is_seen_though_it_is_as_long()
    {
        var plan = Plan(ListeningForm.Ogg, _ => true);
        var last = plan.Preparation.Tracks.Last(t => t.Treatment.IsPrint());
        var other = PackageTamper.Read(demo.Build(Plan(ListeningForm.Ogg, t => t.TrackId != last.TrackId && t.TrackId != plan.Preparation.Tracks[0].TrackId)), "guide_mix.ogg");
        var rows = Copies(PackageTamper.With(demo.Build(plan), "guide_mix.ogg", _ => other), plan);
        Assert.Contains(rows, r => !r.Passed && r.Subject.EndsWith("guide_mix.ogg", StringComparison.Ordinal));
    }
}
