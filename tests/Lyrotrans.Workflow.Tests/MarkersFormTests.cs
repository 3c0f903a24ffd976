using System.Text;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.Midi;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Markers go in all files, in the list alone or in none, and the proof holds for each.</summary>
public sealed class MarkersFormTests(DemoSession demo)
{
    [Theory]
    [InlineData(MarkersForm.All, true, true)]
    [InlineData(MarkersForm.ListOnly, false, true)]
    [InlineData(MarkersForm.None, false, false)]
    public void They_go_where_they_are_to(MarkersForm form, bool inFiles, bool inList)
    {
        var plan = demo.Plan(p => p with { Markers = form, ChosenEnd = 48_000, Tracks = [.. p.Tracks.Select(c => c.TrackId == "piano" ? c with { Treatment = Treatment.KeepClips } : c with { Treatment = Treatment.HoldBack })] });
        var zip = demo.Build(plan);
        Assert.DoesNotContain(demo.Prove(zip, plan).Rows, r => !r.Passed);
        using var midi = new MemoryStream(PackageTamper.Read(zip, ".mid"));
        Assert.Equal(inFiles, SmfContents.Of(SmfReader.Read(midi, "x")).Markers.Count > 0);
        Assert.Equal(inFiles, plan.Clips!.Session.Markers.Count > 0);
        Assert.Equal(inList, plan.Files.Any(f => f.Kind == PlannedKind.MarkerList));

        // The record keeps them all.
        Assert.Contains("Lamps down", Encoding.UTF8.GetString(PackageTamper.Read(zip, ".session.json")), StringComparison.Ordinal);
    }
}
