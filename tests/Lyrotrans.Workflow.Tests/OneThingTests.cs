using System.IO.Compression;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Single;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Workflow.Delivering;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>One thing of a session taken alone, and what it is held against: the medium's own samples, the print of a whole package, the notes of the session.</summary>
public sealed class OneThingTests(DemoSession demo) : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-one-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private Preparation Usual => Preparation.Default(demo.Loaded.Session, Formats.Registry.SessionFormats.Usual);

    private IReadOnlyDictionary<string, MediaSound> Sounds => SoundMeasures.FromFiles(demo.Loaded.Session, demo.Loaded.Media, CancellationToken.None);

    private (string Name, string Path) Taken(OneThing thing, Preparation? preparation = null, LoadedSession? loaded = null)
    {
        loaded ??= demo.Loaded;
        var (plan, problem) = OneThingPlan.Of(thing, loaded.Session, preparation ?? Usual, Sounds);
        Assert.Null(problem);
        using var made = OneThingFile.Make(plan!, loaded.Media, DemoSession.Maker, DemoSession.Known, CancellationToken.None);
        var path = Path.Combine(_folder, made.Name);
        using (var from = made.Open())
        using (var to = File.Create(path))
        {
            from.CopyTo(to);
        }

        return (made.Name, path);
    }

    private string? Problem(OneThing thing, Session? session = null) => OneThingPlan.Of(thing, session ?? demo.Loaded.Session, Usual, Sounds).Problem;

    private static (double[][] Samples, SoundFileFacts Facts) Read(IStoredFile file, string name, long from, long count)
    {
        using var sound = SoundFile.Open(file, name);
        var samples = Enumerable.Range(0, sound.Source.Channels).Select(_ => new double[count]).ToArray();
        sound.Source.Read(from, (int)count, samples);
        return (samples, sound.Facts);
    }

    private static OneThing Of(string track, OneForm form, string? clip = null, string? part = null, SampleRange? range = null) => new(track, clip, part, range, form);

    [Theory]
    [InlineData("horn-close", 48_000)]
    [InlineData("piano", 48_000)]
    [InlineData("narrator", 48_000)]
    [InlineData("bell", 44_100)]
    public void A_clip_as_it_was_recorded_is_its_files_samples_at_its_files_rate(string trackId, int rate)
    {
        var session = demo.Loaded.Session;
        var (track, sounds) = (session.Tracks.Single(t => t.Id == trackId), false);
        foreach (var clip in track.Lanes.SelectMany(l => new[] { l.Clips[0], l.Clips[^1] }).Where(c => session.Media.Single(m => m.Id == c.Media).Place != MediaPlace.Missing).DistinctBy(c => c.Id))
        {
            var medium = session.Media.Single(m => m.Id == clip.Media);
            var (name, path) = Taken(Of(trackId, OneForm.Raw, clip.Id));
            Assert.EndsWith(".wav", name, StringComparison.Ordinal);
            var length = (long)Math.Round(clip.Length * (double)rate / 48_000);
            var there = Math.Min(length, medium.Length - clip.SourceOffset);
            var (found, facts) = Read(new DiskFile(path), name, 0, there);
            Assert.Equal((rate.ToString(System.Globalization.CultureInfo.InvariantCulture), medium.Encoding, clip.ChannelMap.Count, length), (facts.Rate, facts.Encoding, facts.Channels, facts.Frames));
            var (meant, _) = Read(demo.Loaded.Media.FileOf(medium)!, medium.FileName, clip.SourceOffset, there);
            Assert.All(clip.ChannelMap.Select((from, to) => (from, to)), c => Assert.Equal(meant[c.from], found[c.to]));
            sounds |= found.Any(c => c.Any(s => s != 0));
        }

        Assert.True(sounds);
    }

    [Fact]
    public void A_print_of_a_range_is_that_range_of_the_print_in_a_package()
    {
        var plan = demo.Plan();
        var zip = demo.Build(plan);
        var range = new SampleRange(60_001, 141_234);
        var (name, path) = Taken(Of("cello", OneForm.Printed, range: range));
        var file = plan.Files.Single(f => f is { TrackId: "cello", Kind: PlannedKind.FromZero });
        var whole = Path.Combine(_folder, "whole.wav");
        File.WriteAllBytes(whole, PackageTamper.Read(zip, file.Path));
        var (found, facts) = Read(new DiskFile(path), name, 0, range.Length);
        var (meant, _) = Read(new DiskFile(whole), "whole.wav", range.Start - plan.Range.Start, range.Length);
        Assert.Equal(range.Length, facts.Frames);
        Assert.Equal(meant[0], found[0]);

        // With the place in it at which it begins.
        Assert.Equal(Read(new DiskFile(whole), "whole.wav", 0, 1).Facts.TimeReference + range.Start - plan.Range.Start, facts.TimeReference);
    }

    [Fact]
    public void A_part_is_a_file_of_its_notes_that_begins_on_a_bar()
    {
        var session = demo.Loaded.Session;
        var track = session.Tracks.Single(t => t.Id == "celesta");
        foreach (var part in track.Parts)
        {
            var (name, path) = Taken(Of("celesta", OneForm.Notes, part: part.Id));
            Assert.EndsWith(".mid", name, StringComparison.Ordinal);
            Assert.StartsWith("Celesta", name, StringComparison.Ordinal);
            var file = SmfReader.Read(new MemoryStream(File.ReadAllBytes(path)), name);
            var contents = SmfContents.Of(file);
            var notes = contents.Tracks.SelectMany(t => t.Notes).ToList();
            Assert.Equal(part.Notes.Select(n => (n.Key, n.Velocity)).Order(), notes.Select(n => (n.Key, n.Velocity)).Order());

            // From the bar before it, so that the first note is as many quarters in as in the session.
            var bar = session.Meters.StartOfBar(session.Meters.PositionAt(part.StartQuarter).Bar);
            var first = part.StartQuarter + new Rational(part.Notes[0].Tick, part.TicksPerQuarter) - bar;
            if (session.Clock.SampleAt(bar) >= 0)
            {
                Assert.Equal(first.ToDouble(), notes.Min(n => n.Tick) / (double)file.TicksPerQuarter, 6);
            }
        }
    }

    [Fact]
    public void A_bundle_is_a_package_of_notes_print_and_facts()
    {
        var part = demo.Loaded.Session.Tracks.Single(t => t.Id == "celesta").Parts[0];
        var (name, path) = Taken(Of("celesta", OneForm.Bundle, part: part.Id));
        using var zip = ZipFile.OpenRead(path);
        var names = zip.Entries.Select(e => e.FullName[(e.FullName.IndexOf('/') + 1)..]).ToList();
        Assert.EndsWith(".zip", name, StringComparison.Ordinal);
        foreach (var ending in new[] { ".mid", "_stand-in.wav", "_settings.csv", "_levels.csv", "Session_sheet.html", "manifest.json", "manifest.sig", ".session.json" })
        {
            Assert.Contains(names, n => n.EndsWith(ending, StringComparison.Ordinal));
        }

        Assert.Single(names, n => n.EndsWith(".wav", StringComparison.Ordinal));
    }

    [Fact]
    public void Names_say_the_tempo_and_key_that_hold_in_it_and_so_do_the_files()
    {
        var session = demo.Loaded.Session;
        var steady = new SampleRange(10_000, 20_000);
        var (name, path) = Taken(Of("cello", OneForm.Printed, range: steady));
        using (var sound = SoundFile.Open(new DiskFile(path), name))
        {
            Assert.Equal("Cello_92bpm_Dm.wav", name);
            Assert.Equal(("92", "Dm"), (sound.Tags.Tempo, sound.Tags.Key));
        }

        var changing = demo.Loaded with { Session = session with { Tempo = new TempoMap([new TempoPoint(-1, 92), new TempoPoint(session.Clock.QuarterAt(15_000), 93)]) } };
        Assert.Equal("Cello_Dm.wav", Taken(Of("cello", OneForm.Printed, range: steady), loaded: changing).Name);
    }

    [Fact]
    public void A_return_sounds_of_what_feeds_it()
    {
        var (name, path) = Taken(Of("long-hall", OneForm.Printed, range: new SampleRange(0, 100_000)));
        Assert.Contains(Read(new DiskFile(path), name, 0, 100_000).Samples, c => c.Any(s => s != 0));

        // As in a package, and nothing of what feeds it goes along.
        var plan = demo.Plan(p => p with { Tracks = [.. p.Tracks.Select(c => c with { Treatment = c.TrackId == "long-hall" ? Treatment.PrintThrough : Treatment.HoldBack })] });
        var whole = Path.Combine(_folder, "hall.wav");
        File.WriteAllBytes(whole, PackageTamper.Read(demo.Build(plan), plan.Files.Single(f => f.Kind == PlannedKind.FromZero).Path));
        Assert.Equal(Read(new DiskFile(whole), "hall.wav", 0, 100_000).Samples, Read(new DiskFile(path), name, 0, 100_000).Samples);
        var (bundle, _) = OneThingPlan.Of(Of("long-hall", OneForm.Bundle, range: new SampleRange(0, 100_000)), demo.Loaded.Session, Usual, Sounds);
        Assert.Single(bundle!.Plan.Files, f => f.IsSound);
    }

    [Fact]
    public void What_cannot_be_taken_says_why()
    {
        var session = demo.Loaded.Session;
        var clip = session.Tracks.Single(t => t.Id == "cello").Sounding!.Clips[0];
        Assert.Contains("no such track", Problem(Of("nothing", OneForm.Raw)), StringComparison.Ordinal);
        Assert.Contains("no such clip", Problem(Of("cello", OneForm.Raw, "nothing")), StringComparison.Ordinal);
        Assert.Contains("no such part", Problem(Of("celesta", OneForm.Notes, part: "nothing")), StringComparison.Ordinal);
        Assert.Contains("Cello has no notes", Problem(Of("cello", OneForm.Notes)), StringComparison.Ordinal);
        Assert.Contains("no sound of its own. Take it as a print or as notes", Problem(Of("celesta", OneForm.Raw)), StringComparison.Ordinal);
        Assert.Contains("no file alone", Problem(Of(session.Tracks.Single(t => t.Kind == TrackKind.Master).Id, OneForm.Printed)), StringComparison.Ordinal);
        Assert.Contains("ends before it begins", Problem(Of("cello", OneForm.Printed, range: new SampleRange(5, 5))), StringComparison.Ordinal);
        Assert.Contains("more than 30 minutes", Problem(Of("cello", OneForm.Printed, range: new SampleRange(0, 48_000 * 1801))), StringComparison.Ordinal);
        Assert.Contains("lies in the range", Problem(Of("cello", OneForm.Raw, clip.Id, range: new SampleRange(clip.End, clip.End + 10))), StringComparison.Ordinal);
        Assert.Contains("no sound in the range", Problem(Of("cello", OneForm.Printed, range: new SampleRange(session.EndSample + 10, session.EndSample + 20))), StringComparison.Ordinal);
        Assert.Contains("no notes in the range", Problem(Of("celesta", OneForm.Notes, range: new SampleRange(session.EndSample + 10, session.EndSample + 20))), StringComparison.Ordinal);
        Assert.Contains("outside the session", Problem(Of("long-hall", OneForm.Printed, range: new SampleRange(long.MaxValue - 10, long.MaxValue))), StringComparison.Ordinal);
        Assert.Contains("outside the session", Problem(Of("long-hall", OneForm.Printed, range: new SampleRange(-2000, -1000))), StringComparison.Ordinal);
        var gone = session with { Media = [.. session.Media.Select(m => m.Id == clip.Media ? m with { Place = MediaPlace.Missing } : m)] };
        Assert.Contains("is missing. Bring it in first", Problem(Of("cello", OneForm.Raw, clip.Id), gone), StringComparison.Ordinal);
    }
}
