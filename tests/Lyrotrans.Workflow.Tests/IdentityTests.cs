using System.IO.Compression;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What sound is called inside edit files and inside its own file, from one delivery to the next.</summary>
public sealed class IdentityTests(DemoSession demo)
{
    private DeliveryPlan Plan(string format, Func<Preparation, Preparation>? change = null, bool cut = false) => demo.Plan(
        p => (change ?? (q => q))(p with
        {
            Clips = new ClipChoices(SessionFormats.OfClips.First(f => f.Id == format).Clips) { Media = ClipMediaForm.BesideWave },
            Tracks = p.Tracks.Select(c => c.Treatment == Treatment.PrintDry ? c with { Treatment = Treatment.KeepClips } : c).ToValueArray(),
        }),
        cut ? demo.Loaded : demo.Stamped);

    // The identifier of each medium in the edit file, and of the file beside it, by the file's name.
    private Dictionary<string, (string Edit, string? File, string? Broadcast)> Delivered(DeliveryPlan plan, bool cut = false)
    {
        var zip = demo.Build(plan, cut ? demo.Loaded : demo.Stamped);
        var folder = Path.Combine(demo.Folder, Guid.NewGuid().ToString("N"));
        ZipFile.ExtractToDirectory(zip, folder);
        var edit = Directory.EnumerateFiles(folder, $"*{plan.Preparation.Clips.Format.Extension}", SearchOption.AllDirectories).Single();
        var session = SessionLoader.Load(edit, Path.Combine(folder, "scratch")).Session;
        return session.Media.ToDictionary(m => m.FileName, m =>
        {
            using var file = File.OpenRead(Path.Combine(Path.GetDirectoryName(edit)!, "media", m.FileName));
            var header = WaveReader.Read(file, m.FileName);
            return (m.Identifiers[0], header.Umid, header.Broadcast?.Umid);
        });
    }

    [Theory]
    [InlineData("AAF")]
    [InlineData("OMF")]
    [InlineData("OTIO")]
    public void A_file_beside_says_the_identifier_that_the_edit_file_has_for_it(string format)
    {
        var media = Delivered(Plan(format));
        Assert.NotEmpty(media);
        Assert.All(media.Values, m => Assert.Equal(MobId.Whole(m.Edit), m.File));

        // The demo's stamped recordings keep their stamps, so there it is in the bext chunk too.
        Assert.Contains(media.Values, m => m.Broadcast is not null);
        Assert.All(media.Values.Where(m => m.Broadcast is not null), m => Assert.Equal(m.File, m.Broadcast));
    }

    [Theory]
    [InlineData("AAF")]
    [InlineData("OMF")]
    [InlineData("OTIO")]
    public void A_later_delivery_calls_the_same_sound_the_same_and_other_sound_something_else(string format)
    {
        var first = Delivered(Plan(format));
        var later = Delivered(Plan(format, p => p with { NamePattern = "{track}", Tail = 96_000, Tracks = p.Tracks.Select((c, i) => i == 0 ? c with { Treatment = Treatment.HoldBack } : c).ToValueArray() }));
        Assert.NotEmpty(later);
        Assert.All(later, m => Assert.Equal(first[m.Key], m.Value));
        var coarser = Delivered(Plan(format, p => p with { Clips = p.Clips with { Depth = ClipDepth.Integer16 } }));
        var shaped = Delivered(Plan(format, p => p with { Dither = DitherForm.Shaped, Clips = p.Clips with { Depth = ClipDepth.Integer16 } }));
        var all = new[] { first, coarser, shaped }.SelectMany(d => d.Values.Select(m => m.Edit).Distinct()).ToList();
        Assert.Distinct(all);
    }

    [Fact]
    public void Trimmed_sound_is_another_than_the_whole_and_keeps_its_name_while_it_is_the_same()
    {
        var whole = Delivered(Plan("AAF", cut: true), cut: true).Values.Select(m => m.Edit).ToHashSet();
        var trimmed = Delivered(Plan("AAF", p => p with { Clips = p.Clips with { Trimmed = true } }, cut: true), cut: true).Values.Select(m => m.Edit).ToHashSet();
        Assert.False(trimmed.IsSubsetOf(whole));
        Assert.Equal(trimmed, Delivered(Plan("AAF", p => p with { Tail = 4800, Clips = p.Clips with { Trimmed = true } }, cut: true), cut: true).Values.Select(m => m.Edit).ToHashSet());
    }
}
