using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Files;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A session that other software wrote, built as files from zero and proved.</summary>
internal static class FromZero
{
    /// <param name="path">Of the document.</param>
    /// <param name="folder">For the package.</param>
    public static void Passes(string path, string folder)
    {
        var loaded = SessionLoader.Load(path, Path.Combine(folder, "scratch"));
        Assert.DoesNotContain(loaded.Session.Media, m => m.Place == MediaPlace.Missing);
        Assert.Empty(SessionRules.Check(loaded.Session));
        var plan = DeliveryPlan.Make(loaded.Session, Preparation.Default(loaded.Session, SessionFormats.Usual), SoundMeasures.FromFiles(loaded.Session, loaded.Media, CancellationToken.None));
        var zip = Path.Combine(folder, "p.zip");
        PackageFile.Build(plan, loaded.Media, zip, DemoSession.Maker, _ => { }, CancellationToken.None);
        var report = PackageProof.Prove(new DiskFile(zip), "p.zip", plan, loaded.Media, _ => { }, CancellationToken.None);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed)));
        Assert.NotEmpty(report.Clips);
    }
}
