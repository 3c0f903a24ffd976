using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;
using System.Text;
using CsCheck;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.OpenSession;

namespace Lyrotrans.Formats.Tests;

public class SessionDocumentTests
{
    private static readonly Gen<string> s_texts = Gen.String[Gen.Char[' ', 'ͯ'], 0, 12];

    private static readonly Gen<Fade> s_fades = Gen.Select(Gen.Long[0, 400], Gen.Int[0, 5]).Select((length, shape) =>
        length == 0 ? Fade.None : new Fade(length, (FadeShape)shape, shape == 5 ? [0, 0.25, 1] : []));

    private static readonly Gen<Automation?> s_curves = Gen.Select(Gen.Int[0, 3], Gen.Double[-60, 12], Gen.Bool).Select((count, value, step) =>
        count == 0 ? null : new Automation(Enumerable.Range(0, count).Select(i => new AutomationPoint(i * 100, value + i)).ToValueArray(), step ? Interpolation.Step : Interpolation.Linear));

    private static readonly Gen<Clip> s_clips = Gen.Select(Gen.Select(Gen.Long[0, 1 << 20], s_fades, s_fades, s_curves), Gen.Double[-40, 12], Gen.Bool, s_texts).Select((shape, gain, muted, name) => new Clip
    {
        Id = Guid.NewGuid().ToString("N"),
        Name = name,
        Media = "m",
        Length = 1000,
        SourceOffset = shape.Item1,
        FadeIn = shape.Item2,
        FadeOut = shape.Item3,
        GainCurve = shape.Item4,
        GainDb = gain,
        Muted = muted,
        Source = muted ? "AAF, slot 3" : null,
    });

    private static readonly Gen<NotePart> s_parts = Gen.Select(
        Gen.Select(Gen.Long[0, 5000], Gen.Long[1, 900], Gen.Int[1, 16], Gen.Int[0, 127], Gen.Int[0, 127], (t, l, c, k, v) => new Note(t, l, c, k, v)).Array[0, 5],
        Gen.Select(Gen.Long[0, 5000], Gen.Int[0, 5], Gen.Int[1, 16], Gen.Int[0, 127], Gen.Int[-8192, 8191],
            (t, k, c, n, v) => new NoteControl(t, (NoteControlKind)k, c, n, v, k == 5 ? [0x7E, 0xF7] : [])).Array[0, 4],
        Gen.Int[-8, 400], Gen.Bool).Select((notes, controls, start, muted) => new NotePart
        {
            Id = Guid.NewGuid().ToString("N"),
            Name = "part",
            StartQuarter = new Rational(start, 3),
            LengthQuarters = new Rational(17, 2),
            Muted = muted,
            Notes = notes.ToValueArray(),
            Controls = controls.ToValueArray(),
            TicksPerQuarter = 960,
        });

    private static readonly Gen<Session> s_sessions = Gen.Select(
        s_clips.Array[0, 4], s_parts.Array[0, 2], Gen.Select(s_texts, Gen.Int[0, 9], Gen.Int[0, 2_000_000]), s_curves).Select((clips, parts, facts, curve) => new Session
        {
            Name = facts.Item1,
            Rate = new SampleRate(new Rational(48_000_000, 1001)),
            Depth = SampleEncoding.Float32,
            Start = new Timecode(facts.Item3, FrameRate.All[facts.Item2]),
            Bar1Sample = -77,
            Tempo = new TempoMap([new TempoPoint(-1, new Rational(60_000_000, 652_174), true), new TempoPoint(4, 120)]),
            Meters = new MeterMap([new MeterChange(0, 7, 8)]),
            Keys = [new KeyChange(0, -3, true)],
            Markers = [new Marker("k", facts.Item1, 5, 10) { By = curve is null ? string.Empty : facts.Item1, Date = "\t31-3-2" }],
            Media = [new Media { Id = "m", FileName = "a/b.wav", Channels = 2, Length = 5, TimeReference = 9, Sha256 = new string('a', 64), Identifiers = ["urn:x"], Place = MediaPlace.Missing, Rate = SampleRate.Hz44100, Encoding = SampleEncoding.Integer16 }],
            Tracks =
            [
                new Track
                {
                    Id = "t", Name = facts.Item1, State = TrackState.Hidden, Soloed = true, FaderDb = -3.25, FaderAutomation = curve, Pan = -0.5, PanAutomation = curve,
                    Sends = [new Send("r", -6, true, 0.25, curve)], Inserts = [new Insert("drive", [new Parameter("gain dB", 3)], true, 64)], Output = "r",
                    Lanes = [new Lane("comp", clips.Select((c, i) => c with { Start = i * 1000 }).ToValueArray()), new Lane("take 2", [])], SoundingLane = 1,
                },
                new Track { Id = "n", Name = "notes", Kind = TrackKind.Notes, Channels = 0, Parts = parts.ToValueArray() },
                new Track { Id = "r", Name = "return", Kind = TrackKind.Return, Channels = 2 },
                .. facts.Item2 == 0 ? [] : Roles,
            ],
            Picture = new PictureReference("reel.mov", new Timecode(100, FrameRate.Fps24), 50, new string('b', 64))
            {
                FramesPerSecond = facts.Item2 % 2 == 0 ? null : new Rational(24_000, 1001),
                SoundChannels = facts.Item2 % 3,
                Bytes = facts.Item2 / 2 * 5L,
            },
            Comments = [new Comment("Scene", "dome, \"dawn\"")],
            Provenance = [new Provenance("x.aaf", "clips")],
        });

    // An older reader knows none of them, so that only some documents say the newest version.
    private static Track[] Roles =>
    [
        new() { Id = "p", Name = "print", Kind = TrackKind.Print, Of = ["r"], Channels = 2 }, new() { Id = "s", Name = "stem", Kind = TrackKind.Stem, Of = ["t", "n"] },
        new() { Id = "g", Name = "guide", Kind = TrackKind.GuideMix, Channels = 2 }, new() { Id = "c", Name = "click", Kind = TrackKind.Click },
    ];

    private static Session Read(byte[] bytes) => SessionDocumentReader.Read(new MemoryStream(bytes), "doc.json");

    [Fact]
    public void Every_session_comes_back_equal_and_writes_the_same_bytes() => s_sessions.Sample(session =>
    {
        var bytes = SessionDocumentWriter.Write(session);
        var back = Read(bytes);
        return back == session && SessionDocumentWriter.Write(back).AsSpan().SequenceEqual(bytes);
    });

    private const string Good = """
        {"lyrotransSession":1,"name":"x","rate":"48000","depth":"integer 24","frameRate":"25","start":"10:00:00:00","bar1":0,
        "tempo":[{"quarter":"0","quartersPerMinute":"92"}],"meters":[{"bar":1,"beats":4,"beatUnit":4}],
        "media":[{"id":"m","fileName":"m.wav","rate":"48000","encoding":"integer 24","channels":1,"length":100,"place":"beside"}],
        "tracks":[{"id":"t","name":"T","kind":"audio","channels":1,"lanes":[{"name":"main","clips":[
        {"id":"c","name":"C","media":"m","channelMap":[0],"start":0,"length":50,"sourceOffset":0}]}]}]}
        """;

    [Theory]
    [InlineData("\"lyrotransSession\":1", "\"lyrotransSession\":9", "$.lyrotransSession", "version 9")]
    [InlineData("\"sourceOffset\":0", "\"sourceOffset\":0,\"fadeIn\":{\"length\":9,\"shape\":\"sampled\",\"curve\":[0,0.5,1],\"places\":[0,0.7,0.6]}", "$.tracks[0].lanes[0].clips[0].fadeIn", "ascend")]
    [InlineData("\"sourceOffset\":0", "\"sourceOffset\":0,\"fadeIn\":{\"length\":9,\"shape\":\"sampled\",\"curve\":[0,0.5,1],\"places\":[0,1]}", "$.tracks[0].lanes[0].clips[0].fadeIn", "one for each point")]
    [InlineData("\"rate\":\"48000\",\"depth\"", "\"rate\":\"fast\",\"depth\"", "$.rate", "ratio")]
    [InlineData("\"media\":\"m\"", "\"media\":\"z\"", "$.tracks[0].lanes[0].clips[0].media", "no media has that id")]
    [InlineData("\"length\":50", "\"length\":0", "$.tracks[0].lanes[0].clips[0].length", "not between")]
    [InlineData("\"start\":0", "\"start\":0.5", "$.tracks[0].lanes[0].clips[0].start", "whole number")]
    [InlineData("\"kind\":\"audio\"", "\"kind\":\"video\"", "$.tracks[0].kind", "not known")]
    [InlineData("\"kind\":\"audio\"", "\"kind\":\"audio\",\"colour\":3", "$.tracks[0]", "colour")]
    [InlineData("\"bar1\":0,", "", "$", "bar1")]
    [InlineData("\"kind\":\"audio\"", "\"kind\":\"audio\",\"output\":\"t\"", "$.tracks[0].output", "comes back to itself")]
    [InlineData("\"quartersPerMinute\":\"92\"", "\"quartersPerMinute\":\"0\"", "$.tempo", "not above zero")]
    [InlineData("10:00:00:00", "10:00:00:25", "$.start", "not a timecode")]
    [InlineData("\"channelMap\":[0]", "\"channelMap\":[1]", "$.tracks[0].lanes[0].clips[0].channelMap", "does not have")]
    public void Errors_name_the_path(string good, string bad, string path, string words)
    {
        Assert.Equal("x", Read(Encoding.UTF8.GetBytes(Good)).Name);
        var problem = Assert.Throws<BadInputException>(() => Read(Encoding.UTF8.GetBytes(Good.Replace(good, bad, StringComparison.Ordinal))));
        Assert.Equal(path, problem.Where);
        Assert.Contains(words, problem.Message);
    }

    [Fact]
    public void Half_a_document_is_refused_with_its_line()
    {
        var problem = Assert.Throws<BadInputException>(() => Read(Encoding.UTF8.GetBytes(Good[..300])));
        Assert.StartsWith("line ", problem.Where);
        Assert.Throws<BadInputException>(() => Read("[]"u8.ToArray()));
        Assert.Throws<BadInputException>(() => Read(Encoding.UTF8.GetBytes(string.Concat(Enumerable.Repeat("[", 10_000)))));
    }

    [Fact]
    public void Any_damage_is_a_clear_error_or_still_a_session()
    {
        var good = Encoding.UTF8.GetBytes(Good);
        var damage = new Damage();
        Gen.Select(Gen.Int[0, good.Length - 1], Gen.Byte[32, 126]).Array[1, 3].Sample(
            hits =>
            {
                var bytes = Damage.Changed(good, hits);

                damage.Take(() => Read(bytes), session => Assert.Equal(session, Read(SessionDocumentWriter.Write(session))));
            },
            iter: 2000);
        damage.BothHappened();
    }

    [Fact]
    public void A_preparation_comes_back_equal() => Gen.Select(Gen.Int[0, 2], Gen.Long[-5000, 5000], Gen.Long[0, 96_000], Gen.Int[0, 2], Gen.Bool).Sample((from, start, tail, encoding, flac) =>
    {
        SampleEncoding[] encodings = [SampleEncoding.Integer16, SampleEncoding.Integer32, SampleEncoding.Float32];
        var preparation = new Preparation
        {
            Clips = Clips(SessionFormats.OfClips[from % SessionFormats.OfClips.Count].Clips, (int)tail),
            NamePattern = "{track} ü",
            From = (RangeStart)from,
            ChosenStart = start,
            Tail = tail,
            Encoding = encodings[encoding],
            Container = flac ? SoundContainer.Flac : SoundContainer.Wav,
            Midi = new MidiChoices((MidiForm)from, (TempoForm)(from % 4), flac),
            Click = new ClickChoices(flac, !flac, -3.25 * from, from, (CountIn)(from % 2), AccentPattern.TryParse("2+2+3", out var seven) ? [new MeterAccents(7, 8, seven)] : []),
            ChosenEnd = flac ? start + tail : null,
            LongestTail = flac ? null : tail,
            Overs = (OversPolicy)(from % 2),
            Dither = (DitherForm)(encoding % 2),
            DitherTo24 = flac,
            Mix = new MixChoices(flac, (StemMaster)(from % 2), !flac, (ListeningCopies)from, (ListeningForm)(encoding % 2)),
            Tracks =
            [
                new TrackChoice("t", Treatment.PrintDry, DeliveredChannels.Mono, "Name"), new TrackChoice("n", Treatment.HoldBack), new TrackChoice("a", Treatment.PrintThrough, DeliveredChannels.Separate, null, "Voice"),
                new TrackChoice("b", Treatment.PrintMixed), new TrackChoice("c", Treatment.NotesAndPrint),
            ],
        };
        return PreparationDocument.Read(PreparationDocument.Write(preparation), "p.json") == preparation;
    });

    // Choices of a format, and an option of another one that is kept for when that is taken again.
    private static ClipChoices Clips(ClipFormat format, int n) => new(format)
    {
        Media = (ClipMediaForm)(n % 5),
        Depth = (ClipDepth)(n % 3),
        Trimmed = n % 2 == 0,
        Handle = n,
        HandleUnit = (HandleUnit)(n % 3),
        MonoOnly = n % 3 == 0,
        RenderGain = n % 5 == 0,
        Fades = (FadeForm)(n % 3),
        Volume = (VolumeForm)(n / 3 % 3),
        Pan = (PanForm)(n / 9 % 3),
        FrameUnits = n % 7 == 0,
        Options = SessionFormats.OfClips.SelectMany(f => f.Clips.Options).Aggregate(new FormatChoices(), (chosen, o) => chosen.With(o, o.Values[n % o.Values.Count].Id)),
    };

    [Fact]
    public void A_preparation_of_before_options_had_a_place_of_their_own_is_read()
    {
        var now = System.Text.Encoding.UTF8.GetString(PreparationDocument.Write(new Preparation { Clips = new ClipChoices(SessionFormats.Usual) }));
        var before = now.Replace("\"options\": {}", "\"smallSectors\": true,\n    \"limit\": \"4 GiB\",\n    \"splitByTracks\": true", StringComparison.Ordinal);
        Assert.NotEqual(now, before);
        var read = PreparationDocument.Read(System.Text.Encoding.UTF8.GetBytes(before), "p.json");
        Assert.Equal([("limit", "4 GiB"), ("overLimit", "split by tracks"), ("sectors", "512")], read.Clips.Options.Chosen);
        Assert.Equal(read, PreparationDocument.Read(PreparationDocument.Write(read), "p.json"));
    }

    [Theory]
    [InlineData("\"file\": \"AAF\"", "\"file\": \"XYZ\"", "There is no format of clips \"XYZ\"; there are AAF, OMF and OTIO")]
    [InlineData("\"options\": {}", "\"options\": {\"sectors\": \"100\"}", "There is no \"100\"; there are \"4096\" and \"512\"")]
    [InlineData("\"options\": {}", "\"options\": {\"colour\": \"red\"}", "There is no property \"colour\" here")]
    [InlineData("\"options\": {}", "\"smallSectors\": \"maybe\"", "\"sectors\" has no such value")]
    public void A_format_or_option_that_there_is_not_is_an_error_and_never_another_one(string good, string bad, string words)
    {
        var text = System.Text.Encoding.UTF8.GetString(PreparationDocument.Write(new Preparation { Clips = new ClipChoices(SessionFormats.Get("AAF") is IClipFormat aaf ? aaf.Clips : null!) }));
        Assert.Contains(good, text, StringComparison.Ordinal);
        var problem = Assert.Throws<BadInputException>(() => PreparationDocument.Read(System.Text.Encoding.UTF8.GetBytes(text.Replace(good, bad, StringComparison.Ordinal)), "p.json"));
        Assert.Contains(words, problem.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("half of a pair", "\\ud800")]
    [InlineData("half of a pair", "\\udfff x")]
    [InlineData("not UTF-8", "Latin-1")]
    public void Text_that_is_none_is_refused_where_it_lies(string words, string text)
    {
        var good = System.Text.Encoding.UTF8.GetString(SessionDocumentWriter.Write(new Session { Name = "name of it" }));
        var bytes = text == "Latin-1" ? System.Text.Encoding.Latin1.GetBytes(good.Replace("name of it", "Hörner", StringComparison.Ordinal)) : System.Text.Encoding.UTF8.GetBytes(good.Replace("name of it", text, StringComparison.Ordinal));
        Assert.Contains(words, Assert.Throws<BadInputException>(() => SessionDocumentReader.Read(new MemoryStream(bytes), "s.json")).Message, StringComparison.Ordinal);
        var property = System.Text.Encoding.UTF8.GetBytes(good.Replace("\"name\"", "\"\\ud800\"", StringComparison.Ordinal));
        Assert.Throws<BadInputException>(() => SessionDocumentReader.Read(new MemoryStream(property), "s.json"));
    }

    [Fact]
    public void The_schema_is_the_published_one() => Assert.Contains("urn:lyrotrans:open-session:1", SessionDocument.Schema());
}
