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
    /// <summary>1 had no version, and the options of single formats among the choices of all.</summary>
    public const int Version = 2;

    // In version 1.
    private const string FormerInverted = "turned";

    private const string VersionProperty = "version";

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
        json.WriteString("from", Choices.Starts[preparation.From].Id);
        json.WriteNumber("chosenStart", preparation.ChosenStart);
        json.WriteNumber("tail", preparation.Tail);
        json.WriteString("encoding", DocumentWords.Of(DocumentWords.Encodings, preparation.Encoding));
        json.WriteString("container", Choices.Containers[preparation.Container].Id);
        if (preparation.ChosenEnd is { } end)
        {
            json.WriteNumber("chosenEnd", end);
        }

        if (preparation.LongestTail is { } longest)
        {
            json.WriteNumber("longestTail", longest);
        }

        json.WriteString("overs", Choices.Overs[preparation.Overs].Id);
        json.WriteString("dither", Choices.Dithers[preparation.Dither].Id);
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
            json.WriteString("treatment", Choices.Treatments[choice.Treatment].Id);
            json.WriteString("channels", Choices.Channels[choice.Channels].Id);
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
            From = node["from"].OneOf(Choices.Starts.ById),
            ChosenStart = node["chosenStart"].Whole(),
            Tail = node["tail"].Whole(0),
            Encoding = encoding,
            Container = node["container"].OneOf(Choices.Containers.ById),
            ChosenEnd = node.Optional<long?>("chosenEnd", null, n => n.Whole()),
            LongestTail = node.Optional<long?>("longestTail", null, n => n.Whole(0)),
            Overs = node.Optional("overs", OversPolicy.Hold, n => n.OneOf(Choices.Overs.ById)),
            Dither = node.Optional("dither", DitherForm.Flat, n => n.OneOf(Choices.Dithers.ById)),
            DitherTo24 = node.Optional("ditherTo24", false, n => n.Truth()),
            Mix = node.Optional("mix", new MixChoices(), ReadMix),
            Midi = node.Optional("midi", new MidiChoices(), ReadMidi),
            Click = node.Optional("click", new ClickChoices(), ReadClick),
            Clips = node.Optional("clips", new ClipChoices(SessionFormats.Usual), ReadClips),
            Tracks = node.List("tracks", t =>
            {
                t.OnlyHas("track", "treatment", "channels", "name", "group", "inverted", FormerInverted);
                return new TrackChoice(
                    t["track"].Text(), t["treatment"].OneOf(Choices.Treatments.ById), t["channels"].OneOf(Choices.Channels.ById),
                    t.Optional<string?>("name", null, n => n.Text()), t.Optional<string?>("group", null, n => n.Text()), t.Optional("inverted", t.Optional(FormerInverted, false, n => n.Truth()), n => n.Truth()));
            }),
        };
    }

    private static void WriteMix(Utf8JsonWriter json, MixChoices mix)
    {
        json.WriteStartObject("mix");
        json.WriteBoolean("stems", mix.Stems);
        json.WriteString("master", Choices.Masters[mix.Master].Id);
        json.WriteBoolean("guide", mix.Guide);
        json.WriteString("copies", Choices.Copies[mix.Copies].Id);
        json.WriteString("copyForm", Choices.CopyForms[mix.CopyForm].Id);
        json.WriteEndObject();
    }

    private static MixChoices ReadMix(DocumentNode node)
    {
        node.OnlyHas("stems", "master", "guide", "copies", "copyForm");
        var usual = new MixChoices();
        return new MixChoices(
            node.Optional("stems", usual.Stems, n => n.Truth()), node.Optional("master", usual.Master, n => n.OneOf(Choices.Masters.ById)), node.Optional("guide", usual.Guide, n => n.Truth()),
            node.Optional("copies", usual.Copies, n => n.OneOf(Choices.Copies.ById)), node.Optional("copyForm", usual.CopyForm, n => n.OneOf(Choices.CopyForms.ById)));
    }

    private static void WriteMidi(Utf8JsonWriter json, MidiChoices midi)
    {
        json.WriteStartObject("midi");
        json.WriteString("form", Choices.MidiForms[midi.Form].Id);
        json.WriteString("tempo", Choices.Tempos[midi.Tempo].Id);
        json.WriteBoolean("mutedParts", midi.MutedParts);
        json.WriteEndObject();
    }

    private static MidiChoices ReadMidi(DocumentNode node)
    {
        node.OnlyHas("form", "tempo", "mutedParts");
        return new MidiChoices(node["form"].OneOf(Choices.MidiForms.ById), node["tempo"].OneOf(Choices.Tempos.ById), node["mutedParts"].Truth());
    }

    private static void WriteClick(Utf8JsonWriter json, ClickChoices click)
    {
        json.WriteStartObject("click");
        json.WriteBoolean("print", click.Print);
        json.WriteBoolean("midi", click.Midi);
        json.WriteNumber("levelDb", click.LevelDb);
        json.WriteNumber("countInBars", click.CountInBars);
        json.WriteString("countIn", Choices.CountIns[click.CountIn].Id);
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
            node["countIn"].OneOf(Choices.CountIns.ById), node.List("accents", ReadAccents));
    }

    private static void WriteClips(Utf8JsonWriter json, ClipChoices clips)
    {
        json.WriteStartObject("clips");
        json.WriteString("file", clips.Format.Id);
        json.WriteString("media", Choices.ClipMedia[clips.Media].Id);
        json.WriteString("depth", Choices.ClipDepths[clips.Depth].Id);
        json.WriteBoolean("trimmed", clips.Trimmed);
        json.WriteNumber("handle", clips.Handle);
        json.WriteString("handleUnit", Choices.HandleUnits[clips.HandleUnit].Id);
        json.WriteBoolean("monoOnly", clips.MonoOnly);
        json.WriteBoolean("renderGain", clips.RenderGain);
        json.WriteString("fades", Choices.Fades[clips.Fades].Id);
        json.WriteString("volume", Choices.Volumes[clips.Volume].Id);
        json.WriteString("pan", Choices.Pans[clips.Pan].Id);
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
            Depth = node.Optional("depth", usual.Depth, n => n.OneOf(Choices.ClipDepths.ById)),
            Media = node.Optional("media", usual.Media, n => n.OneOf(Choices.ClipMedia.ById)),
            Trimmed = node.Optional("trimmed", usual.Trimmed, n => n.Truth()),
            Handle = node.Optional("handle", usual.Handle, n => n.Whole(0, ClipChoices.LongestHandle)),
            HandleUnit = node.Optional("handleUnit", usual.HandleUnit, n => n.OneOf(Choices.HandleUnits.ById)),
            MonoOnly = node.Optional("monoOnly", usual.MonoOnly, n => n.Truth()),
            RenderGain = node.Optional("renderGain", usual.RenderGain, n => n.Truth()),
            Fades = node.Optional("fades", usual.Fades, n => n.OneOf(Choices.Fades.ById)),
            Volume = node.Optional("volume", usual.Volume, n => n.OneOf(Choices.Volumes.ById)),
            Pan = node.Optional("pan", usual.Pan, n => n.OneOf(Choices.Pans.ById)),
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
            var value = option.Values.FirstOrDefault(v => v.FormerId == former.TextOrTruth()) ?? throw former.Error(DocumentCodes.Unknown, $"\"{option.Name}\" has no such value.");
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
