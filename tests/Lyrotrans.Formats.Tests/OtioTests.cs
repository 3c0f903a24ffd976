using Lyrotrans.Formats.Sessions;
using System.Text;
using System.Text.Json.Nodes;
using CsCheck;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Otio;
using Lyrotrans.Formats.Otio.Writing;
using Lyrotrans.Formats.Recognition;

namespace Lyrotrans.Formats.Tests;

public sealed class OtioTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-otio-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static Dictionary<string, MediaEssence> Beside(Session session) => session.Media.ToDictionary(m => m.Id, m => new MediaEssence
    {
        MediaId = m.Id,
        FileName = m.FileName,
        Layout = new PcmLayout(m.Encoding, false, m.Channels, m.Rate, 0, m.Length),
        Head = [],
        BesidePath = $"media/{m.FileName}",
        Identity = m.FileName,
    });

    private static byte[] Write(Session session, OtioForm? form = null)
    {
        using var output = new MemoryStream();
        OtioWriter.Write(session, Beside(session), form ?? new OtioForm(), output);
        return output.ToArray();
    }

    private static EditComposition Read(string text, string? composition = null) => OtioDocument.Open(new MemoryStream(Encoding.UTF8.GetBytes(text)), "x.otio").Read(composition);

    private static string Time(double value, double rate = 48000) => FormattableString.Invariant($$"""{"OTIO_SCHEMA":"RationalTime.1","value":{{value}},"rate":{{rate}} }""");

    private static string Range(double start, double length, double rate = 48000) => $$"""{"OTIO_SCHEMA":"TimeRange.1","start_time":{{Time(start, rate)}},"duration":{{Time(length, rate)}} }""";

    private static string Clip(string name, double start, double length, string more = "", double rate = 48000) =>
        $$"""{"OTIO_SCHEMA":"Clip.2","name":"{{name}}","source_range":{{Range(start, length, rate)}},"media_references":{"DEFAULT_MEDIA":{"OTIO_SCHEMA":"ExternalReference.1","target_url":"{{name}}.wav","available_range":{{Range(0, 480000)}} } },"active_media_reference_key":"DEFAULT_MEDIA"{{more}} }""";

    private static string Gap(double length) => $$"""{"OTIO_SCHEMA":"Gap.1","source_range":{{Range(0, length)}} }""";

    private static string Transition(double into, double away) => $$"""{"OTIO_SCHEMA":"Transition.1","in_offset":{{Time(into)}},"out_offset":{{Time(away)}} }""";

    private static string Track(string children, string more = "") => $$"""{"OTIO_SCHEMA":"Track.1","name":"Horn","kind":"Audio","children":[{{children}}]{{more}} }""";

    private static string Timeline(string tracks, string more = "", string name = "Suite") => $$"""{"OTIO_SCHEMA":"Timeline.1","name":"{{name}}","tracks":{"OTIO_SCHEMA":"Stack.1","children":[{{tracks}}]{{more}} } }""";

    private static (long, long, long)[] Places(EditTrack track) => [.. track.Clips.Select(c => (c.Start.RoundToEven(), c.Length.RoundToEven(), c.SourceOffset.RoundToEven()))];

    [Fact]
    public void What_was_written_comes_back_equal_and_writes_the_same_bytes() => Gen.Int[0, int.MaxValue - 1].Sample(
        seed =>
        {
            var session = ClipSessions.Make(seed);
            var bytes = Write(session);
            Assert.Equal("OTIO", ContentSniffer.FormatOf(new MemoryStream(bytes))!.Id);
            var (found, findings) = EditImport.Make(OtioDocument.Open(new MemoryStream(bytes), "x.otio").Read());
            Assert.Equal(session.Tracks.ToArray(), found.Tracks.ToArray());
            Assert.Equal(session, found);
            Assert.Empty(findings);
            return Write(found).AsSpan().SequenceEqual(bytes);
        },
        iter: 200);

    [Fact]
    public void Without_our_metadata_every_place_is_still_on_its_sample() => Gen.Int[0, int.MaxValue - 1].Sample(
        seed =>
        {
            var session = ClipSessions.Make(seed);
            var json = JsonNode.Parse(Write(session))!;
            json["metadata"] = new JsonObject();
            var composition = Read(json.ToJsonString());
            foreach (var (meant, found) in session.Tracks.Zip(composition.Tracks))
            {
                Assert.Equal(meant.Name, found.Name);
                Assert.Equal(
                    meant.Lanes[0].Clips.Select(c => ((Rational)c.Start, (Rational)c.Length, (Rational)c.SourceOffset, c.Muted, (Rational)c.FadeIn.Length, (Rational)c.FadeOut.Length)),
                    found.Clips.Select(c => (c.Start, c.Length, c.SourceOffset, c.Muted, c.FadeIn?.Length ?? 0, c.FadeOut?.Length ?? 0)));
            }

            Assert.Equal(session.Markers.Select(m => (m.Sample, m.Length, m.Text, m.By, m.Date)), composition.Markers.Select(m => (m.Place.RoundToEven(), m.Length.RoundToEven(), m.Text, m.By, m.Date)));
            return composition.StartFrames == session.Start.Frames;
        },
        iter: 200);

    [Fact]
    public void What_somebody_moved_since_is_theirs_and_its_gain_is_kept()
    {
        static bool Begins(Track track) => track.Lanes[0].Clips is { Count: > 1 } clips && clips[0].Start > 0 && clips[0].FadeIn.Length == 0 && track.FaderAutomation is not null;
        var session = Enumerable.Range(0, 200).Select(seed => ClipSessions.Make(seed)).First(s => s.Tracks.Any(Begins));
        var track = session.Tracks.First(Begins);
        var json = JsonNode.Parse(Write(session))!;
        var written = json["tracks"]!["children"]!.AsArray().First(t => (string)t!["name"]! == track.Name)!["children"]!.AsArray();
        var gap = written[0]!["source_range"]!["duration"]!;
        gap["value"] = (double)gap["value"]! + 7;
        var found = EditImport.Make(Read(json.ToJsonString())).Session.Tracks.First(t => t.Id == track.Id);
        Assert.Equal(track.Lanes[0].Clips.Select(c => c.Start + 7), found.Lanes[0].Clips.Select(c => c.Start));
        Assert.Equal(track.Lanes[0].Clips.Select(c => (c.Id, c.GainDb, c.GainCurve, c.FadeOut)), found.Lanes[0].Clips.Select(c => (c.Id, c.GainDb, c.GainCurve, c.FadeOut)));
        Assert.Equal(track.FaderAutomation, found.FaderAutomation);
    }

    [Fact]
    public void What_somebody_copied_since_is_there_twice_with_its_gain()
    {
        static bool Plain(Track track) => track.Lanes[0].Clips is { Count: > 1 } clips && clips[^1] is { FadeOut.Length: 0, FadeIn.Length: 0, GainDb: not 0, Muted: false } last && clips[^2].End <= last.Start;
        var session = Enumerable.Range(0, 500).Select(seed => ClipSessions.Make(seed)).First(s => s.Tracks.Any(Plain));
        var track = session.Tracks.First(Plain);
        var last = track.Lanes[0].Clips[^1];
        var json = JsonNode.Parse(Write(session))!;
        var all = json["tracks"]!["children"]!.AsArray();
        var written = all.First(t => (string)t!["name"]! == track.Name)!;
        var items = written["children"]!.AsArray();
        var at = items.Select((item, i) => (item, i)).Last(p => (string)p.item!["OTIO_SCHEMA"]! == "Clip.2").i;
        items.Insert(at + 1, items[at]!.DeepClone());
        all.Add(written.DeepClone());
        var (found, findings) = EditImport.Make(Read(json.ToJsonString()));
        Assert.Empty(findings);
        Assert.Empty(SessionRules.Check(found));
        Assert.Equal(session.Tracks.Count + 1, found.Tracks.Count);
        foreach (var copied in new[] { found.Tracks.First(t => t.Id == track.Id), found.Tracks[^1] })
        {
            Assert.Equal((track.Name, track.FaderDb, track.FaderAutomation, track.Channels), (copied.Name, copied.FaderDb, copied.FaderAutomation, copied.Channels));
            Assert.Equal([last.Start, last.End], copied.Lanes[0].Clips.TakeLast(2).Select(c => c.Start));
            Assert.All(copied.Lanes[0].Clips.TakeLast(2), c => Assert.Equal((last.GainDb, last.GainCurve), (c.GainDb, c.GainCurve)));
        }
    }

    [Fact]
    public void The_schema_finds_nothing_wrong_and_sees_what_is()
    {
        var paths = Enumerable.Range(0, 5).Select(seed =>
        {
            var path = Path.Combine(_folder, $"{seed}.otio");
            File.WriteAllBytes(path, Write(ClipSessions.Make(seed, seed % 2 == 0 ? 1 : 1920), new OtioForm { EditRate = seed % 2 == 0 ? null : 25 }));
            return path;
        }).ToList();
        (int Code, byte[] Output, string Errors) Check(IEnumerable<string> files) => OtherProgram.Run("/usr/bin/python3", [OtherProgram.Script("otio_check.py"), OtherProgram.Script("otio.schema.json"), .. files]);
        var (code, output, errors) = Check([.. paths, Fixtures.Path("otio/linked.otio"), Fixtures.Path("otio/frames.otio")]);
        Assert.True(code == 0, Encoding.UTF8.GetString(output) + errors);
        File.WriteAllText(paths[0], File.ReadAllText(paths[0]).Replace("Gap.1", "Gap.9", StringComparison.Ordinal));
        Assert.Equal(1, Check(paths).Code);
    }

    [Fact]
    public void Transitions_take_sound_from_beyond_the_cut()
    {
        var track = Read(Timeline(Track($"{Gap(1000)},{Transition(100, 200)},{Clip("a", 5000, 10000)},{Transition(300, 100)},{Clip("b", 2000, 8000)},{Transition(400, 0)},{Gap(500)}"))).Tracks[0];
        Assert.Equal([(900, 10200, 4900), (10700, 8300, 1700)], Places(track));
        Assert.Equal([300, 400], track.Clips.Select(c => (long)c.FadeIn!.Length.RoundToEven()));
        Assert.Equal([400, 400], track.Clips.Select(c => (long)c.FadeOut!.Length.RoundToEven()));
    }

    [Fact]
    public void Layers_inside_a_track_lie_on_tracks_of_their_own()
    {
        var stack = $$"""{"OTIO_SCHEMA":"Stack.1","name":"s","source_range":{{Range(100, 1000)}},"children":[{{Track(Clip("a", 0, 3000))}},{{Track($"{Gap(50)},{Clip("b", 7, 500)}")}}]}""";
        var tracks = Read(Timeline(Track($"{Clip("x", 0, 600)},{stack},{Clip("y", 0, 10)}"))).Tracks;
        Assert.Equal(["Horn", "Horn, layer 2"], tracks.Select(t => t.Name));
        Assert.Equal([(0, 600, 0), (600, 1000, 100), (1600, 10, 0)], Places(tracks[0]));
        Assert.Equal([(600, 450, 57)], Places(tracks[1]));
    }

    [Fact]
    public void Rates_of_each_object_are_exact()
    {
        var pulled = Read(Timeline(Track($"{Gap(0)},{Clip("a", 30, 60, rate: 29.97002997)},{Clip("b", 1, 1)}")));
        Assert.Equal(new Rational(60L * 1001 * 48000, 30 * 1000), pulled.Tracks[0].Clips[1].Start);
        Assert.Equal(new Rational(30L * 1001 * 48000, 30 * 1000), pulled.Tracks[0].Clips[0].SourceOffset);
        Assert.Equal(new Rational(24000, 1001), OtioTime.RateOf(23.976));
        Assert.Equal(new Rational(48000 * 1000L, 1001), OtioTime.RateOf(47952.047952047954));
        Assert.Equal(25, OtioTime.RateOf(25));
        Assert.Equal(new Rational(25, 2), OtioTime.RateOf(12.5));
    }

    [Fact]
    public void Timecode_of_the_media_is_no_offset()
    {
        var clip = Clip("a", 90000 + 25, 50, rate: 25).Replace(Range(0, 480000), Range(90000, 1000, 25), StringComparison.Ordinal);
        Assert.Equal([(0, 96000, 48000)], Places(Read(Timeline(Track(clip))).Tracks[0]));
    }

    [Fact]
    public void Older_clips_missing_media_speed_and_generators_are_heard_or_said()
    {
        var old = $$"""{"OTIO_SCHEMA":"Clip.1","name":"old","source_range":{{Range(10, 20)}},"media_reference":{"OTIO_SCHEMA":"ExternalReference.1","target_url":"old.wav"},"enabled":false}""";
        var missing = $$"""{"OTIO_SCHEMA":"Clip.2","name":"gone","source_range":{{Range(0, 30)}},"media_references":{"DEFAULT_MEDIA":{"OTIO_SCHEMA":"MissingReference.1"} },"active_media_reference_key":"DEFAULT_MEDIA"}""";
        var made = $$"""{"OTIO_SCHEMA":"Clip.2","name":"tone","source_range":{{Range(0, 40)}},"media_references":{"DEFAULT_MEDIA":{"OTIO_SCHEMA":"GeneratorReference.1"} } }""";
        var fast = Clip("fast", 0, 50, ""","effects":[{"OTIO_SCHEMA":"LinearTimeWarp.1","time_scalar":2.0}]""");
        var found = Read(Timeline(Track($"{old},{missing},{made},{fast}")));
        Assert.Equal([(0, 20, 10), (20, 30, 0), (90, 50, 0)], Places(found.Tracks[0]));
        Assert.True(found.Tracks[0].Clips[0].Muted);
        Assert.Equal("gone", found.Media[found.Tracks[0].Clips[1].Media].FileName);
        Assert.Contains(found.Findings, f => f.Text.Contains("speed of 2", StringComparison.Ordinal));
        Assert.Contains(found.Findings, f => f.Text.Contains("generator", StringComparison.Ordinal));
    }

    [Fact]
    public void Markers_of_timeline_track_and_clip_lie_on_the_timeline()
    {
        string Marker(string name, double at) => $$"""{"OTIO_SCHEMA":"Marker.2","name":"{{name}}","marked_range":{{Range(at, 0)}} }""";
        var clip = Clip("a", 1000, 500, $""","markers":[{Marker("in clip", 1100)}]""");
        var found = Read(Timeline(Track($"{Gap(200)},{clip}", $""","markers":[{Marker("on track", 50)}]"""), $""","markers":[{Marker("on all", 7)}]"""));
        Assert.Equal([("on all", 7), ("on track", 50), ("in clip", 300L)], found.Markers.Select(m => (m.Text, m.Place.RoundToEven())));
    }

    [Fact]
    public void Of_several_timelines_one_is_taken()
    {
        var text = $$"""{"OTIO_SCHEMA":"SerializableCollection.1","children":[{{Timeline(Track(Clip("a", 0, 10)), name: "one")}},{{Timeline(Track(Clip("b", 0, 20)), name: "two")}}]}""";
        Assert.Equal(["two"], Read(text).Others);
        Assert.Equal([(0, 20, 0)], Places(Read(text, "two").Tracks[0]));
    }

    [Theory]
    [InlineData("""{"OTIO_SCHEMA":"Gap.1"}""", "no timeline")]
    [InlineData("""{"OTIO_SCHEMA":"Timeline.1","name":"x"}""", "no tracks")]
    [InlineData("""{"OTIO_SCHEMA":"SerializableCollection.1","children":[]}""", "no timeline")]
    [InlineData("""{"OTIO_SCHEMA":"Timeline.1",""", "not whole JSON")]
    public void What_is_no_timeline_is_a_clear_error(string text, string says)
    {
        var problem = Assert.Throws<BadInputException>(() => Read(text));
        Assert.Contains(says, problem.Message, StringComparison.Ordinal);
        Assert.Contains("x.otio", problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Nesting_without_end_is_a_clear_error_or_a_finding()
    {
        string Nested(int depth) => string.Concat(Enumerable.Repeat("""{"OTIO_SCHEMA":"Stack.1","children":[""", depth)) + Clip("a", 0, 10) + string.Concat(Enumerable.Repeat("]}", depth));
        Assert.Contains("nested deeper", Assert.Throws<BadInputException>(() => Read(Timeline(Track(Nested(5000))))).Message, StringComparison.Ordinal);
        Assert.Contains(Read(Timeline(Track(Nested(150)))).Findings, f => f.Text.Contains("nested deeper", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(-5, 48000)]
    [InlineData(1e300, 48000)]
    [InlineData(1e15, 1e-9)]
    public void Times_that_make_no_sense_are_left_out(double value, double rate)
    {
        var clip = Clip("a", 0, 10).Replace(Time(10), Time(value, rate), StringComparison.Ordinal);
        Assert.Equal([(0, 480000, 0)], Places(Read(Timeline(Track(clip))).Tracks[0]));
    }
}
