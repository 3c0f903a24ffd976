using System.IO.Compression;
using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Handover;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What a receiver is told to do and to check by, held against what is in the package when it is read back.</summary>
public sealed class HandoverTests(DemoSession demo) : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-handover-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private DeliveryPlan Kept(ClipChoices choices, Func<Preparation, Preparation>? change = null) => demo.Plan(p =>
    {
        var kept = p with { Clips = choices, Tracks = [.. p.Tracks.Select(t => t.Treatment == Treatment.PrintDry ? t with { Treatment = Treatment.KeepClips } : t)] };
        return change?.Invoke(kept) ?? kept;
    });

    private Session ReadBack(DeliveryPlan plan)
    {
        var zip = demo.Build(plan);
        ZipFile.ExtractToDirectory(zip, _folder);
        return SessionLoader.Load(Directory.EnumerateFiles(_folder, "*.*", SearchOption.AllDirectories).Single(f => SessionConvert.IsClips(f)), Path.Combine(_folder, "scratch")).Session;
    }

    public static TheoryData<string> Ways => ["AAF", "AAF in frames", "OMF at 44.1 kHz", "OTIO from bar 1", "AAF before the start"];

    private DeliveryPlan Way(string way) => way switch
    {
        "AAF" => Kept(Choose.Aaf),
        "AAF in frames" => Kept(Choose.Aaf with { FrameUnits = true, Trimmed = true }),
        "OMF at 44.1 kHz" => Kept(Choose.Omf, p => p with { Rate = 44_100 }),
        "OTIO from bar 1" => Kept(Choose.Otio with { MonoOnly = false }, p => p with { From = RangeStart.Bar1 }),
        _ => EarlyPlan(),
    };

    // Clips that lie before the session's start, which a file of clips has to begin earlier for.
    private DeliveryPlan EarlyPlan()
    {
        var session = demo.Loaded.Session;
        var early = session with { Tracks = [.. session.Tracks.Select(t => t.Id == "cello" ? t with { Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select((c, i) => i == 0 ? c with { Start = -5000 } : c)] })] } : t)] };
        var preparation = demo.Plan().Preparation;
        return DeliveryPlan.Make(early, preparation with { Clips = Choose.Aaf, Tracks = [.. preparation.Tracks.Select(t => t.Treatment == Treatment.PrintDry ? t with { Treatment = Treatment.KeepClips } : t)] }, new Dictionary<string, Core.Sound.MediaSound>());
    }

    [Theory]
    [MemberData(nameof(Ways))]
    public void Places_to_check_by_are_where_the_clips_are_when_the_file_is_read_back(string way)
    {
        var plan = Way(way);
        var found = ReadBack(plan);
        var points = CheckPoints.Of(plan).Where(p => p.GainDb is not null).GroupBy(p => p.Track).ToDictionary(g => g.Key, g => g.ToList());
        var tracks = found.Tracks.Where(t => t.Kind == TrackKind.Audio && t.Lanes[0].Clips.Any(c => !c.Muted)).ToList();
        Assert.True(tracks.Count > 8);

        // Seconds since midnight, by arithmetic that has nothing of the program's.
        double Seconds(long sample) => ((double)found.Start.Frames / 25) + ((double)sample / found.Rate.HeaderHz);
        var start = (double)plan.Session.TimecodeScale.At(plan.Range.Start).Frame.Frames / 25;
        Assert.Equal(0, plan.Session.TimecodeScale.At(plan.Range.Start).SubSamples * (way == "OTIO from bar 1" ? 0 : 1));
        var sub = (double)plan.Session.TimecodeScale.At(plan.Range.Start).SubSamples / 48_000;
        foreach (var track in tracks.Where(t => points.ContainsKey(t.Name)))
        {
            var clips = track.Lanes[0].Clips.Where(c => !c.Muted).OrderBy(c => c.Start).ToList();
            var told = points[track.Name];
            Assert.Equal(clips.Count == 1 ? 1 : 2, told.Count);
            foreach (var (point, clip) in told.Zip(new[] { clips[0], clips[^1] }))
            {
                Assert.Equal(clip.Name, point.What);
                Assert.Equal(clip.GainDb, point.GainDb!.Value, 3);
                Assert.Equal(Math.Round((Seconds(clip.Start) - start - sub) * found.Rate.HeaderHz), point.Sample);
                Assert.Equal(found.TimecodeScale.At(clip.Start).ToString(), point.Timecode);
            }
        }

        Assert.True(tracks.Count(t => points.ContainsKey(t.Name)) > 8);
    }

    [Fact]
    public void Notes_to_check_by_are_where_the_notes_are_when_the_MIDI_file_is_read_back()
    {
        var plan = demo.Plan();
        ZipFile.ExtractToDirectory(demo.Build(plan), _folder);
        using var stream = File.OpenRead(Directory.EnumerateFiles(_folder, "*.mid", SearchOption.AllDirectories).First());
        var found = SessionLoader.Load(Path.GetDirectoryName(stream.Name)!, Path.Combine(_folder, "scratch")).Session;
        var harp = found.Tracks.Single(t => t.Name.Contains("Harp", StringComparison.Ordinal) && t.Kind == TrackKind.Notes);
        var places = harp.Parts.SelectMany(p => p.Notes.Select(n => found.Clock.SampleAt(p.StartQuarter + new Rational(n.Tick, p.TicksPerQuarter)))).Order().ToList();
        var told = CheckPoints.Of(plan).Where(p => p.Track.Contains("Harp", StringComparison.Ordinal)).ToList();

        // The file's grid is in whole microseconds: it strays by less than a sample or two.
        Assert.InRange(told[0].Sample - places[0], -3, 3);
        Assert.InRange(told[^1].Sample - places[^1], -3, 3);
        Assert.Null(told[0].GainDb);
    }

    [Fact]
    public void Stereo_tracks_that_came_apart_are_named_with_their_pans()
    {
        var plan = Kept(Choose.Aaf with { MonoOnly = true });
        var found = ReadBack(plan).Tracks.ToDictionary(t => t.Name, t => t.Pan);
        var pairs = JoinedPairs.Of(plan);
        var piano = pairs.Single(p => p.Track.Contains("08_Piano", StringComparison.Ordinal));
        Assert.Equal(2, piano.Parts.Count);
        Assert.All(piano.Parts, p => Assert.Equal(found[p.Name], p.Pan));
        Assert.Equal([-1.0, 1.0], piano.Parts.Select(p => p.Pan));
        Assert.Contains(pairs, p => p.Parts.Count == 4);
        Assert.Contains(HandoverSteps.Of(plan), s => s.Do.StartsWith("Join ", StringComparison.Ordinal));
        var files = demo.Plan(p => p with { Tracks = [.. p.Tracks.Select(t => t.TrackId == "piano" ? t with { Channels = DeliveredChannels.Separate } : t)] });
        Assert.Equal([-1.0, 1.0], JoinedPairs.Of(files).Single().Parts.Select(p => p.Pan));
    }

    [Fact]
    public void Steps_are_of_what_is_in_the_package_and_in_its_order()
    {
        var steps = HandoverSteps.Of(Kept(Choose.Aaf, p => p with { Mix = new MixChoices(Stems: true, Guide: true) })).Select(s => s.Do).ToList();
        var order = new[] { "New session at 48\u202f000 Hz, 25 frames, start 10:00:00:00.", "Import Orrery_Suite.mid", "Open or import Orrery_Suite.aaf", "Stems or tracks, not both", "Hear mix/Orrery_Suite_guide_mix.wav first", "Check a few places." };
        Assert.Equal(order, order.Select(o => steps.Find(s => s.StartsWith(o, StringComparison.Ordinal)) is { } found ? o : string.Empty));
        Assert.Equal(order.Length, order.Select(o => steps.FindIndex(s => s.StartsWith(o, StringComparison.Ordinal))).Order().Distinct().Count());
        Assert.True(order.Select(o => steps.FindIndex(s => s.StartsWith(o, StringComparison.Ordinal))).SequenceEqual(order.Select(o => steps.FindIndex(s => s.StartsWith(o, StringComparison.Ordinal))).Order()));
        var only = HandoverSteps.Of(demo.Plan(p => p with { Mix = new MixChoices(Stems: true), Tracks = [.. p.Tracks.Select(t => t.Treatment.IsPrint() ? t with { Treatment = Treatment.StemOnly } : t)] })).Select(s => s.Do).ToList();
        Assert.DoesNotContain(only, s => s.Contains("not both", StringComparison.Ordinal) || s.Contains("in audio", StringComparison.Ordinal));
        Assert.Contains(only, s => s.Contains("in stems", StringComparison.Ordinal));
    }

    [Fact]
    public void What_did_not_come_is_all_that_no_file_but_the_record_carries()
    {
        var plan = Kept(Choose.Aaf);
        var carry = CarryPlan.Of(plan);
        var files = Enumerable.Range(0, carry.Outputs.Count).Where(i => carry.Columns[i] != "record").ToList();
        var left = LeftBehinds.Of(plan);
        foreach (var row in carry.Rows.Where(r => r.Kind != CarryPlan.ClipLengths))
        {
            var missing = row.Objects.Count(o => files.TrueForAll(f => o.Fates[f] is Fate.None or Fate.HeldBack));
            Assert.Equal(missing, left.Where(l => l.Fate == Fate.HeldBack).SelectMany(l => l.Kinds).Where(k => k.Kind == row.Kind).Sum(k => k.Count));
        }

        Assert.Contains(left, l => l.Kinds.Any(k => k.Kind == CarryPlan.Effects) && l.Instead.Contains("_settings.csv", StringComparison.Ordinal));
        Assert.Contains(left, l => l.Names.Contains("Long hall", StringComparison.Ordinal) || l.Kinds.Count > 1);
        Assert.All(left, l => Assert.NotEmpty(l.Instead));
    }
}
