using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Binary;
using System.Text.Json;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using static Lyrotrans.Formats.OpenSession.DocumentWords;

namespace Lyrotrans.Formats.OpenSession;

/// <summary>Reads an open session document. Every error names the file and the path in the document.</summary>
public sealed class SessionDocumentReader
{
    private const long LargestFile = 512L << 20;
    private const int LargestCount = 1 << 20;

    private SessionDocumentReader()
    {
    }

    /// <exception cref="BadInputException">Not JSON, of a version that is not known, or against the schema or the model's rules.</exception>
    public static Session Read(Stream stream, string file)
    {
        if (stream.CanSeek && stream.Length > LargestFile)
        {
            throw new BadInputException(FileCodes.TooLarge, file, string.Empty, $"It is {stream.Length} bytes; a session document has at most {LargestFile}.", "Check what it is.");
        }

        using var document = JsonInput.Parse(stream, file);
        return Read(document.RootElement, file);
    }

    /// <summary>The same of a document that lies inside another.</summary>
    public static Session Read(JsonElement document, string file)
    {
        var root = new DocumentNode(document, DocumentPath.Root, file);
        var session = Session(root);
        foreach (var fault in SessionRules.Check(session))
        {
            throw new BadInputException(DocumentCodes.BrokenRule, file, fault.Path, fault.Message, "Correct the document there.");
        }

        return session;
    }

    private static Session Session(DocumentNode root)
    {
        if (!root.Has(SessionDocument.VersionProperty))
        {
            throw root.Error(DocumentCodes.NotOne, $"This is not an open session document: it has no \"{SessionDocument.VersionProperty}\".", "Check what it is.");
        }

        DocumentVersion.Read(root, SessionDocument.VersionProperty, SessionDocument.Version);

        root.OnlyHas(
            SessionDocument.VersionProperty, "$schema", "name", "rate", "depth", "frameRate", "start", "bar1", "panLaw", "tempo", "meters", "keys",
            "markers", "media", "tracks", "picture", "comments", "provenance");
        var frameRate = Frames(root["frameRate"]);
        return new Session
        {
            Name = root["name"].Text(),
            Rate = Rate(root["rate"]),
            Depth = root["depth"].OneOf(Encodings),
            Start = Code(root["start"], frameRate),
            Bar1Sample = root["bar1"].Whole(),
            PanLaw = root.Optional("panLaw", default(Core.Sessions.PanLaw), n => n.OneOf(PanLaws)),
            Tempo = Tempo(root),
            Meters = Meters(root),
            Keys = root.List("keys", Key),
            Markers = root.List("markers", Marker),
            Media = root.List("media", Media),
            Tracks = root.List("tracks", Track),
            Picture = root.Optional<PictureReference?>("picture", null, Picture),
            Comments = root.List("comments", c =>
            {
                c.OnlyHas("name", "text");
                return new Comment(c["name"].Text(), c["text"].Text());
            }),
            Provenance = root.List("provenance", p =>
            {
                p.OnlyHas("source", "took");
                return new Provenance(p["source"].Text(), p["took"].Text());
            }),
        };
    }

    private static SampleRate Rate(DocumentNode node)
    {
        var ratio = node.Ratio();
        return SampleRate.IsPossible(ratio) ? new SampleRate(ratio) : throw node.Error(DocumentCodes.BadValue, $"A rate of {ratio} samples a second is not possible.");
    }

    private static FrameRate Frames(DocumentNode node) => FrameRate.TryFromName(node.Text(), out var rate)
        ? rate
        : throw node.Error(DocumentCodes.Unknown, $"There is no frame rate \"{node.Text()}\"; there are {string.Join(", ", FrameRate.All.Select(r => r.Name))}.");

    private static Timecode Code(DocumentNode node, FrameRate rate) => Timecode.TryParse(node.Text(), rate, out var code)
        ? code
        : throw node.Error(DocumentCodes.BadValue, $"\"{node.Text()}\" is not a timecode at {rate.Name} frames a second.");

    private static Rational Quarter(DocumentNode node) => node.Ratio(-SessionLimits.FarthestQuarter, SessionLimits.FarthestQuarter);

    private static TempoMap Tempo(DocumentNode root)
    {
        var points = root["tempo"].Items().Select(p =>
        {
            p.OnlyHas("quarter", "quartersPerMinute", "ramp");
            return new TempoPoint(Quarter(p["quarter"]), p["quartersPerMinute"].Ratio(most: SessionLimits.FastestTempo), p.Optional("ramp", false, n => n.Truth()));
        }).ToValueArray();
        return Checked(root["tempo"], () => new TempoMap(points));
    }

    private static MeterMap Meters(DocumentNode root)
    {
        var changes = root["meters"].Items().Select(m =>
        {
            m.OnlyHas("bar", "beats", "beatUnit");
            return new MeterChange(m["bar"].Whole(-SessionLimits.FarthestQuarter, SessionLimits.FarthestQuarter), (int)m["beats"].Whole(1, 255), (int)m["beatUnit"].Whole(1, 1024));
        }).ToValueArray();
        return Checked(root["meters"], () => new MeterMap(changes));
    }

    private static T Checked<T>(DocumentNode node, Func<T> make)
    {
        try
        {
            return make();
        }
        catch (ArgumentException problem)
        {
            throw node.Error(DocumentCodes.BadValue, problem.Message);
        }
    }

    private static KeyChange Key(DocumentNode node)
    {
        node.OnlyHas("quarter", "sharps", "minor");
        return new KeyChange(Quarter(node["quarter"]), (int)node["sharps"].Whole(-7, 7), node.Optional("minor", false, n => n.Truth()));
    }

    private static Marker Marker(DocumentNode node)
    {
        node.OnlyHas("id", "text", "sample", "length", "by", "date");
        return new Marker(node["id"].Text(), node["text"].Text(), node["sample"].Whole(), node.Optional("length", 0L, n => n.Whole(0)))
        {
            By = node.Optional("by", string.Empty, n => n.Text()),
            Date = node.Optional("date", string.Empty, n => n.Text()),
        };
    }

    private static Media Media(DocumentNode node)
    {
        node.OnlyHas("id", "fileName", "rate", "rateDeclared", "encoding", "channels", "length", "timeReference", "place", "delivery", "sha256", "identifiers");
        return new Media
        {
            Id = node["id"].Text(),
            FileName = node["fileName"].Text(),
            Rate = Rate(node["rate"]),
            RateDeclared = node.Optional("rateDeclared", false, n => n.Truth()),
            Encoding = node["encoding"].OneOf(Encodings),
            Channels = (int)node["channels"].Whole(0, SessionLimits.MostChannels),
            Length = node["length"].Whole(0),
            TimeReference = node.Optional<long?>("timeReference", null, n => n.Whole(0)),
            Place = node["place"].OneOf(Places),
            Delivery = node.Optional<string?>("delivery", null, n => n.Sum()),
            Sha256 = node.Optional<string?>("sha256", null, n => n.Sum()),
            Identifiers = node.List("identifiers", n => n.Text()),
        };
    }

    private static Track Track(DocumentNode node)
    {
        node.OnlyHas(
            "id", "name", "kind", "channels", "of", "holds", "state", "soloed", "faderDb", "faderAutomation", "pan", "panAutomation", "inverted", "output", "sends", "inserts",
            "lanes", "soundingLane", "parts", "note");
        return new Track
        {
            Id = node["id"].Text(),
            Name = node["name"].Text(),
            Kind = node["kind"].OneOf(Kinds),
            Channels = (int)node["channels"].Whole(0, SessionLimits.MostChannels),
            Of = node.List("of", n => n.Text()),
            Holds = node.Optional("holds", PrintHolds.Effects, n => n.OneOf(Holds)),
            State = node.Optional("state", TrackState.Active, n => n.OneOf(States)),
            Soloed = node.Optional("soloed", false, n => n.Truth()),
            FaderDb = node.Optional("faderDb", 0.0, n => n.Number()),
            FaderAutomation = node.Optional<Automation?>("faderAutomation", null, Curve),
            Pan = node.Optional("pan", 0.0, n => n.Number()),
            PanAutomation = node.Optional<Automation?>("panAutomation", null, Curve),
            Inverted = node.Optional("inverted", false, n => n.Truth()),
            Output = node.Optional<string?>("output", null, n => n.Text()),
            Sends = node.List("sends", Send),
            Inserts = node.List("inserts", Insert),
            Lanes = node.List("lanes", Lane),
            SoundingLane = node.Optional("soundingLane", 0, n => (int)n.Whole(0, LargestCount)),
            Parts = node.List("parts", Part),
            Note = node.Optional("note", string.Empty, Words),
        };
    }

    private static Send Send(DocumentNode node)
    {
        node.OnlyHas("target", "levelDb", "preFader", "pan", "levelAutomation");
        return new Send(
            node["target"].Text(), node["levelDb"].Number(), node.Optional("preFader", false, n => n.Truth()),
            node.Optional("pan", 0.0, n => n.Number()), node.Optional<Automation?>("levelAutomation", null, Curve));
    }

    private static Insert Insert(DocumentNode node)
    {
        node.OnlyHas("effect", "parameters", "bypassed", "latency");
        return new Insert(
            node["effect"].Text(),
            node.List("parameters", p =>
            {
                p.OnlyHas("name", "value");
                return new Parameter(p["name"].Text(), p["value"].Number());
            }),
            node.Optional("bypassed", false, n => n.Truth()), node.Optional("latency", 0L, n => n.Whole(0)));
    }

    private static Lane Lane(DocumentNode node)
    {
        node.OnlyHas("name", "clips");
        return new Lane(node["name"].Text(), node.List("clips", Clip));
    }

    private static Clip Clip(DocumentNode node)
    {
        node.OnlyHas(
            "id", "name", "media", "channelMap", "start", "length", "sourceOffset", "gainDb", "gainCurve", "fadeIn", "fadeOut", "muted", "note", "source");
        return new Clip
        {
            Id = node["id"].Text(),
            Name = node["name"].Text(),
            Media = node["media"].Text(),
            ChannelMap = node["channelMap"].Items().Select(n => (int)n.Whole(0, SessionLimits.MostChannels - 1)).ToValueArray(),
            Start = node["start"].Whole(-LargestSample, LargestSample),
            Length = node["length"].Whole(1, LargestSample),
            SourceOffset = node["sourceOffset"].Whole(0, LargestSample),
            GainDb = node.Optional("gainDb", 0.0, n => n.Number()),
            GainCurve = node.Optional<Automation?>("gainCurve", null, Curve),
            FadeIn = node.Optional("fadeIn", Core.Sessions.Fade.None, Fade),
            FadeOut = node.Optional("fadeOut", Core.Sessions.Fade.None, Fade),
            Muted = node.Optional("muted", false, n => n.Truth()),
            Note = node.Optional("note", string.Empty, Words),
            Source = node.Optional<string?>("source", null, n => n.Text()),
        };
    }

    private static string Words(DocumentNode node) => node.Text() is var text && NoteText.IsOne(text)
        ? text : throw node.Error(DocumentCodes.BadValue, $"A note has at most {SessionLimits.LongestNote} characters, and none that cannot be read.");

    // A year at 768 kHz; keeps sums of positions inside 64 bits.
    private const long LargestSample = SessionLimits.FarthestSample;

    private static Fade Fade(DocumentNode node)
    {
        node.OnlyHas("length", "shape", "curve", "places");
        var fade = new Fade(node["length"].Whole(0, LargestSample), node["shape"].OneOf(Shapes), node.List("curve", n => n.Number()), node.List("places", n => n.Number()));
        var ascending = fade.Places.Zip(fade.Places.Skip(1)).All(p => p.First <= p.Second) && fade.Places.All(p => p is >= 0 and <= 1);
        if (fade.Places.Count > 0 && (fade.Places.Count != fade.Curve.Count || !ascending))
        {
            throw node.Error(DocumentCodes.BadValue, "The places of a sampled fade ascend from 0 to 1, one for each point of its curve.");
        }

        return fade.Shape == FadeShape.Sampled && fade.Curve.Count < 2 ? throw node.Error(DocumentCodes.BadValue, "A sampled fade needs at least two points in its curve.") : fade;
    }

    private static Automation Curve(DocumentNode node)
    {
        node.OnlyHas("interpolation", "points");
        var last = long.MinValue;
        var points = node["points"].Items().Select(p =>
        {
            var pair = p.Items().ToList();
            if (pair.Count != 2)
            {
                throw p.Error(DocumentCodes.BadValue, "A point is a pair: sample, value.");
            }

            var point = new AutomationPoint(pair[0].Whole(-LargestSample, LargestSample), pair[1].Number());
            if (point.Sample <= last)
            {
                throw p.Error(DocumentCodes.BadValue, $"The point at sample {point.Sample} does not come after the one before it.");
            }

            last = point.Sample;
            return point;
        }).ToValueArray();
        return new Automation(points, node.Optional("interpolation", Interpolation.Linear, n => n.OneOf(Interpolations)));
    }

    private static NotePart Part(DocumentNode node)
    {
        node.OnlyHas("id", "name", "startQuarter", "lengthQuarters", "ticksPerQuarter", "notes", "controls", "muted");
        return new NotePart
        {
            Id = node["id"].Text(),
            Name = node["name"].Text(),
            StartQuarter = Quarter(node["startQuarter"]),
            LengthQuarters = Quarter(node["lengthQuarters"]),
            TicksPerQuarter = (int)node["ticksPerQuarter"].Whole(1, 1_000_000),
            Notes = node.List("notes", Note),
            Controls = node.List("controls", Control),
            Muted = node.Optional("muted", false, n => n.Truth()),
        };
    }

    private static Note Note(DocumentNode node)
    {
        var n = node.Items().ToList();
        return n.Count == 6
            ? new Note(
                n[0].Whole(0, LargestSample), n[1].Whole(0, LargestSample), (int)n[2].Whole(1, 16), (int)n[3].Whole(0, 127),
                (int)n[4].Whole(0, 127), (int)n[5].Whole(0, 127))
            : throw node.Error(DocumentCodes.BadValue, "A note is six numbers: tick, length, channel, key, velocity, release velocity.");
    }

    private static NoteControl Control(DocumentNode node)
    {
        node.OnlyHas("tick", "kind", "channel", "number", "value", "bytes");
        return new NoteControl(
            node["tick"].Whole(0, LargestSample), node["kind"].OneOf(Controls), (int)node["channel"].Whole(0, 16),
            node.Optional("number", 0, n => (int)n.Whole(0, 255)), node.Optional("value", 0, n => (int)n.Whole(-8192, 16383)),
            node.Optional<ValueArray<byte>>("bytes", [], Hex));
    }

    private static ValueArray<byte> Hex(DocumentNode node)
    {
        try
        {
            return Convert.FromHexString(node.Text()).ToValueArray();
        }
        catch (FormatException)
        {
            throw node.Error(DocumentCodes.BadValue, "Bytes are an even number of hex digits.");
        }
    }

    private static PictureReference Picture(DocumentNode node)
    {
        node.OnlyHas("fileName", "frameRate", "start", "lengthFrames", "sha256", "framesPerSecond", "soundChannels", "bytes");
        return new PictureReference(
            node["fileName"].Text(), Code(node["start"], Frames(node["frameRate"])), node.Optional("lengthFrames", 0L, n => n.Whole(0)),
            node.Optional<string?>("sha256", null, n => n.Sum()))
        {
            FramesPerSecond = node.Optional<Rational?>("framesPerSecond", null, n => n.Ratio() is { Sign: > 0 } ratio ? ratio : throw n.Error(DocumentCodes.BadValue, "A picture has more than no frames a second.")),
            SoundChannels = (int)node.Optional("soundChannels", 0L, n => n.Whole(0, SessionLimits.MostChannels)),
            Bytes = node.Optional("bytes", 0L, n => n.Whole(0)),
        };
    }
}
