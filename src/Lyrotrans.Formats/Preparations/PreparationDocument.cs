using Lyrotrans.Formats.Binary;
using System.Text.Json;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Registry;

namespace Lyrotrans.Formats.Preparations;

/// <summary>A preparation as JSON: kept with each revision and inside every manifest, so that a package says how it was meant.</summary>
public static class PreparationDocument
{
    private static readonly IReadOnlyDictionary<string, Treatment> s_treatments = new Dictionary<string, Treatment>
    {
        ["print dry"] = Treatment.PrintDry,
        ["keep clips"] = Treatment.KeepClips,
        ["notes"] = Treatment.Notes,
        ["hold back"] = Treatment.HoldBack,
        ["print through"] = Treatment.PrintThrough,
        ["print as mixed"] = Treatment.PrintMixed,
        ["notes and print"] = Treatment.NotesAndPrint,
    };

    private static readonly IReadOnlyDictionary<string, DeliveredChannels> s_channels = new Dictionary<string, DeliveredChannels>
    {
        ["as track"] = DeliveredChannels.AsTrack,
        ["mono"] = DeliveredChannels.Mono,
        ["stereo"] = DeliveredChannels.Stereo,
        ["separate"] = DeliveredChannels.Separate,
    };

    private static readonly IReadOnlyDictionary<string, RangeStart> s_starts = new Dictionary<string, RangeStart>
    {
        ["session start"] = RangeStart.SessionStart,
        ["bar 1"] = RangeStart.Bar1,
        ["chosen"] = RangeStart.Chosen,
    };

    private static readonly IReadOnlyDictionary<string, SoundContainer> s_containers = new Dictionary<string, SoundContainer>
    {
        ["wav"] = SoundContainer.Wav,
        ["flac"] = SoundContainer.Flac,
        ["aiff"] = SoundContainer.Aiff,
    };

    private static readonly IReadOnlyDictionary<string, OversPolicy> s_overs = new Dictionary<string, OversPolicy>
    {
        ["hold"] = OversPolicy.Hold,
        ["lower"] = OversPolicy.Lower,
    };

    private static readonly IReadOnlyDictionary<string, DitherForm> s_dithers = new Dictionary<string, DitherForm>
    {
        ["flat"] = DitherForm.Flat,
        ["shaped"] = DitherForm.Shaped,
    };

    private static readonly IReadOnlyDictionary<string, StemMaster> s_masters = new Dictionary<string, StemMaster>
    {
        ["before"] = StemMaster.Before,
        ["through"] = StemMaster.Through,
    };

    private static readonly IReadOnlyDictionary<string, ListeningCopies> s_copies = new Dictionary<string, ListeningCopies>
    {
        ["none"] = ListeningCopies.None,
        ["guide mix"] = ListeningCopies.GuideMix,
        ["all"] = ListeningCopies.All,
    };

    private static readonly IReadOnlyDictionary<string, ListeningForm> s_copyForms = new Dictionary<string, ListeningForm>
    {
        ["ogg"] = ListeningForm.Ogg,
        ["mp3"] = ListeningForm.Mp3,
    };

    private static readonly IReadOnlyDictionary<string, MidiForm> s_midiForms = new Dictionary<string, MidiForm>
    {
        ["one file"] = MidiForm.OneFile,
        ["track per part"] = MidiForm.TrackPerPart,
        ["file per part"] = MidiForm.FilePerPart,
    };

    private static readonly IReadOnlyDictionary<string, TempoForm> s_tempoForms = new Dictionary<string, TempoForm>
    {
        ["corrected"] = TempoForm.Corrected,
        ["plain"] = TempoForm.Plain,
    };

    private static readonly IReadOnlyDictionary<string, CountIn> s_countIns = new Dictionary<string, CountIn>
    {
        ["all files"] = CountIn.AllFiles,
        ["click alone"] = CountIn.ClickAlone,
    };

    private static readonly IReadOnlyDictionary<string, ClipDepth> s_clipDepths = new Dictionary<string, ClipDepth>
    {
        ["own"] = ClipDepth.Own,
        ["integer 16"] = ClipDepth.Integer16,
        ["integer 24"] = ClipDepth.Integer24,
    };

    private static readonly IReadOnlyDictionary<string, ClipMediaForm> s_clipMedia = new Dictionary<string, ClipMediaForm>
    {
        ["inside, WAVE"] = ClipMediaForm.InsideWave,
        ["inside, samples"] = ClipMediaForm.InsideSamples,
        ["inside, AIFF"] = ClipMediaForm.InsideAiff,
        ["beside, WAVE"] = ClipMediaForm.BesideWave,
        ["beside, AIFF"] = ClipMediaForm.BesideAiff,
    };

    private static readonly IReadOnlyDictionary<string, HandleUnit> s_handleUnits = new Dictionary<string, HandleUnit>
    {
        ["ms"] = HandleUnit.Milliseconds,
        ["frames"] = HandleUnit.Frames,
        ["samples"] = HandleUnit.Samples,
    };

    private static readonly IReadOnlyDictionary<string, FadeForm> s_fadeForms = new Dictionary<string, FadeForm>
    {
        ["transitions"] = FadeForm.Transitions,
        ["properties"] = FadeForm.Properties,
        ["rendered"] = FadeForm.Rendered,
    };

    private static readonly IReadOnlyDictionary<string, VolumeForm> s_volumeForms = new Dictionary<string, VolumeForm>
    {
        ["kept"] = VolumeForm.Kept,
        ["rendered"] = VolumeForm.Rendered,
        ["left out"] = VolumeForm.LeftOut,
    };

    private static readonly IReadOnlyDictionary<string, PanForm> s_panForms = new Dictionary<string, PanForm>
    {
        ["kept"] = PanForm.Kept,
        ["split"] = PanForm.Split,
        ["left out"] = PanForm.LeftOut,
    };

    /// <summary>1 had no version, and the options of single formats among the choices of all.</summary>
    public const int Version = 2;

    // In version 1.
    private const string FormerInverted = "turned";

    private const string VersionProperty = "version";

    /// <summary>The words for treatments.</summary>
    internal static IReadOnlyDictionary<string, Treatment> Treatments => s_treatments;

    public static byte[] Write(Preparation preparation)
    {
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output, new JsonWriterOptions { Indented = true, NewLine = "\n" }))
        {
            Write(json, preparation);
        }

        return output.ToArray();
    }

    public static void Write(Utf8JsonWriter json, Preparation preparation)
    {
        json.WriteStartObject();
        json.WriteNumber(VersionProperty, Version);
        json.WriteString("namePattern", preparation.NamePattern);
        json.WriteString("from", DocumentWords.Of(s_starts, preparation.From));
        json.WriteNumber("chosenStart", preparation.ChosenStart);
        json.WriteNumber("tail", preparation.Tail);
        json.WriteString("encoding", DocumentWords.Of(DocumentWords.Encodings, preparation.Encoding));
        json.WriteString("container", DocumentWords.Of(s_containers, preparation.Container));
        if (preparation.ChosenEnd is { } end)
        {
            json.WriteNumber("chosenEnd", end);
        }

        if (preparation.LongestTail is { } longest)
        {
            json.WriteNumber("longestTail", longest);
        }

        json.WriteString("overs", DocumentWords.Of(s_overs, preparation.Overs));
        json.WriteString("dither", DocumentWords.Of(s_dithers, preparation.Dither));
        json.WriteBoolean("ditherTo24", preparation.DitherTo24);
        WriteMix(json, preparation.Mix);
        WriteMidi(json, preparation.Midi);
        WriteClick(json, preparation.Click);
        WriteClips(json, preparation.Clips);
        json.WriteStartArray("tracks");
        foreach (var choice in preparation.Tracks)
        {
            json.WriteStartObject();
            json.WriteString("track", choice.TrackId);
            json.WriteString("treatment", DocumentWords.Of(s_treatments, choice.Treatment));
            json.WriteString("channels", DocumentWords.Of(s_channels, choice.Channels));
            if (choice.Name is not null)
            {
                json.WriteString("name", choice.Name);
            }

            if (choice.Group is not null)
            {
                json.WriteString("group", choice.Group);
            }

            if (choice.Inverted)
            {
                json.WriteBoolean("inverted", true);
            }

            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    /// <exception cref="Core.Errors.BadInputException">Not whole JSON, or against the form; names the path.</exception>
    public static Preparation Read(ReadOnlyMemory<byte> bytes, string file)
    {
        using var document = JsonInput.Parse(bytes, file);
        return Read(new DocumentNode(document.RootElement, DocumentPath.Root, file));
    }

    public static Preparation Read(DocumentNode node)
    {
        DocumentVersion.Read(node, VersionProperty, Version);
        node.OnlyHas(VersionProperty, "namePattern", "from", "chosenStart", "tail", "encoding", "container", "chosenEnd", "longestTail", "overs", "dither", "ditherTo24", "mix", "midi", "click", "clips", "tracks");
        var encoding = node["encoding"].OneOf(DocumentWords.Encodings);
        if (!Preparation.Encodings.Contains(encoding))
        {
            throw node["encoding"].Error(DocumentCodes.BadValue, "Files are delivered as integer 16, 24 or 32, or float 32.");
        }

        return new Preparation
        {
            NamePattern = node["namePattern"].Text(),
            From = node["from"].OneOf(s_starts),
            ChosenStart = node["chosenStart"].Whole(),
            Tail = node["tail"].Whole(0),
            Encoding = encoding,
            Container = node["container"].OneOf(s_containers),
            ChosenEnd = node.Optional<long?>("chosenEnd", null, n => n.Whole()),
            LongestTail = node.Optional<long?>("longestTail", null, n => n.Whole(0)),
            Overs = node.Optional("overs", OversPolicy.Hold, n => n.OneOf(s_overs)),
            Dither = node.Optional("dither", DitherForm.Flat, n => n.OneOf(s_dithers)),
            DitherTo24 = node.Optional("ditherTo24", false, n => n.Truth()),
            Mix = node.Optional("mix", new MixChoices(), ReadMix),
            Midi = node.Optional("midi", new MidiChoices(), ReadMidi),
            Click = node.Optional("click", new ClickChoices(), ReadClick),
            Clips = node.Optional("clips", new ClipChoices(SessionFormats.Usual), ReadClips),
            Tracks = node.List("tracks", t =>
            {
                t.OnlyHas("track", "treatment", "channels", "name", "group", "inverted", FormerInverted);
                return new TrackChoice(
                    t["track"].Text(), t["treatment"].OneOf(s_treatments), t["channels"].OneOf(s_channels),
                    t.Optional<string?>("name", null, n => n.Text()), t.Optional<string?>("group", null, n => n.Text()), t.Optional("inverted", t.Optional(FormerInverted, false, n => n.Truth()), n => n.Truth()));
            }),
        };
    }

    private static void WriteMix(Utf8JsonWriter json, MixChoices mix)
    {
        json.WriteStartObject("mix");
        json.WriteBoolean("stems", mix.Stems);
        json.WriteString("master", DocumentWords.Of(s_masters, mix.Master));
        json.WriteBoolean("guide", mix.Guide);
        json.WriteString("copies", DocumentWords.Of(s_copies, mix.Copies));
        json.WriteString("copyForm", DocumentWords.Of(s_copyForms, mix.CopyForm));
        json.WriteEndObject();
    }

    private static MixChoices ReadMix(DocumentNode node)
    {
        node.OnlyHas("stems", "master", "guide", "copies", "copyForm");
        var usual = new MixChoices();
        return new MixChoices(
            node.Optional("stems", usual.Stems, n => n.Truth()), node.Optional("master", usual.Master, n => n.OneOf(s_masters)), node.Optional("guide", usual.Guide, n => n.Truth()),
            node.Optional("copies", usual.Copies, n => n.OneOf(s_copies)), node.Optional("copyForm", usual.CopyForm, n => n.OneOf(s_copyForms)));
    }

    private static void WriteMidi(Utf8JsonWriter json, MidiChoices midi)
    {
        json.WriteStartObject("midi");
        json.WriteString("form", DocumentWords.Of(s_midiForms, midi.Form));
        json.WriteString("tempo", DocumentWords.Of(s_tempoForms, midi.Tempo));
        json.WriteBoolean("mutedParts", midi.MutedParts);
        json.WriteEndObject();
    }

    private static MidiChoices ReadMidi(DocumentNode node)
    {
        node.OnlyHas("form", "tempo", "mutedParts");
        return new MidiChoices(node["form"].OneOf(s_midiForms), node["tempo"].OneOf(s_tempoForms), node["mutedParts"].Truth());
    }

    private static void WriteClick(Utf8JsonWriter json, ClickChoices click)
    {
        json.WriteStartObject("click");
        json.WriteBoolean("print", click.Print);
        json.WriteBoolean("midi", click.Midi);
        json.WriteNumber("levelDb", click.LevelDb);
        json.WriteNumber("countInBars", click.CountInBars);
        json.WriteString("countIn", DocumentWords.Of(s_countIns, click.CountIn));
        json.WriteStartArray("accents");
        foreach (var accents in click.Accents)
        {
            json.WriteStartObject();
            json.WriteNumber("beats", accents.Beats);
            json.WriteNumber("beatUnit", accents.BeatUnit);
            json.WriteString("pattern", accents.Pattern.ToString());
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    private static ClickChoices ReadClick(DocumentNode node)
    {
        node.OnlyHas("print", "midi", "levelDb", "countInBars", "countIn", "accents");
        return new ClickChoices(
            node["print"].Truth(), node["midi"].Truth(), node["levelDb"].Number(), (int)node["countInBars"].Whole(0, ClickChoices.MostCountInBars),
            node["countIn"].OneOf(s_countIns), node.List("accents", ReadAccents));
    }

    private static void WriteClips(Utf8JsonWriter json, ClipChoices clips)
    {
        json.WriteStartObject("clips");
        json.WriteString("file", clips.Format.Id);
        json.WriteString("media", DocumentWords.Of(s_clipMedia, clips.Media));
        json.WriteString("depth", DocumentWords.Of(s_clipDepths, clips.Depth));
        json.WriteBoolean("trimmed", clips.Trimmed);
        json.WriteNumber("handle", clips.Handle);
        json.WriteString("handleUnit", DocumentWords.Of(s_handleUnits, clips.HandleUnit));
        json.WriteBoolean("monoOnly", clips.MonoOnly);
        json.WriteBoolean("renderGain", clips.RenderGain);
        json.WriteString("fades", DocumentWords.Of(s_fadeForms, clips.Fades));
        json.WriteString("volume", DocumentWords.Of(s_volumeForms, clips.Volume));
        json.WriteString("pan", DocumentWords.Of(s_panForms, clips.Pan));
        json.WriteBoolean("frameUnits", clips.FrameUnits);
        json.WriteStartObject("options");
        foreach (var (option, value) in clips.Options.Chosen)
        {
            json.WriteString(option, value);
        }

        json.WriteEndObject();
        json.WriteEndObject();
    }

    /// <summary>The choices for a file of clips; what is not said stays as it is by default.</summary>
    private static ClipChoices ReadClips(DocumentNode node)
    {
        var options = SessionFormats.OfClips.SelectMany(f => f.Clips.Options).ToList();
        node.OnlyHas(["file", "media", "depth", "trimmed", "handle", "handleUnit", "monoOnly", "renderGain", "fades", "volume", "pan", "frameUnits", "options", .. options.Select(o => o.FormerId).OfType<string>()]);
        var usual = new ClipChoices(SessionFormats.Usual);
        return new ClipChoices(node.Optional("file", usual.Format, Format))
        {
            Options = Options(node, options),
            Depth = node.Optional("depth", usual.Depth, n => n.OneOf(s_clipDepths)),
            Media = node.Optional("media", usual.Media, n => n.OneOf(s_clipMedia)),
            Trimmed = node.Optional("trimmed", usual.Trimmed, n => n.Truth()),
            Handle = node.Optional("handle", usual.Handle, n => n.Whole(0, ClipChoices.LongestHandle)),
            HandleUnit = node.Optional("handleUnit", usual.HandleUnit, n => n.OneOf(s_handleUnits)),
            MonoOnly = node.Optional("monoOnly", usual.MonoOnly, n => n.Truth()),
            RenderGain = node.Optional("renderGain", usual.RenderGain, n => n.Truth()),
            Fades = node.Optional("fades", usual.Fades, n => n.OneOf(s_fadeForms)),
            Volume = node.Optional("volume", usual.Volume, n => n.OneOf(s_volumeForms)),
            Pan = node.Optional("pan", usual.Pan, n => n.OneOf(s_panForms)),
            FrameUnits = node.Optional("frameUnits", usual.FrameUnits, n => n.Truth()),
        };
    }

    private static ClipFormat Format(DocumentNode node) => SessionFormats.OfClips.FirstOrDefault(f => f.Id == node.Text())?.Clips
        ?? throw node.Error(DocumentCodes.Unknown, $"There is no format of clips \"{node.Text()}\"; there are {SessionFormats.Words("and")}.");

    /// <summary>The options of single formats; documents of before hold them among the choices of all.</summary>
    private static FormatChoices Options(DocumentNode node, List<FormatOption> options)
    {
        var chosen = new FormatChoices();
        foreach (var option in options.Where(o => o.FormerId is not null && node.Has(o.FormerId)))
        {
            var former = node[option.FormerId!];
            var value = option.Values.FirstOrDefault(v => v.FormerId == former.Plain()) ?? throw former.Error(DocumentCodes.Unknown, $"\"{option.Name}\" has no such value.");
            chosen = chosen.With(option, value.Id);
        }

        if (!node.Has("options"))
        {
            return chosen;
        }

        var own = node["options"];
        own.OnlyHas([.. options.Select(o => o.Id)]);
        foreach (var option in options.Where(o => own.Has(o.Id)))
        {
            var value = own[option.Id];
            chosen = option.Find(value.Text()) is null
                ? throw value.Error(DocumentCodes.Unknown, $"There is no \"{value.Text()}\"; there are {Phrases.List([.. option.Values.Select(v => $"\"{v.Id}\"")], "and")}.")
                : chosen.With(option, value.Text());
        }

        return chosen;
    }

    private static MeterAccents ReadAccents(DocumentNode node)
    {
        node.OnlyHas("beats", "beatUnit", "pattern");
        var beats = (int)node["beats"].Whole(1, 255);
        return AccentPattern.TryParse(node["pattern"].Text(), out var pattern) && pattern.Beats == beats
            ? new MeterAccents(beats, (int)node["beatUnit"].Whole(1, 255), pattern)
            : throw node["pattern"].Error(DocumentCodes.BadValue, $"\"{node["pattern"].Text()}\" is no pattern of {beats} beats.");
    }
}
