using Lyrotrans.Formats.Binary;
using System.Text.Json;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Registry;

namespace Lyrotrans.Formats.Preparations;

/// <summary>A preparation as JSON: kept with each revision and inside every manifest, so that a package says how it was meant.</summary>
public static class PreparationDocument
{
    /// <summary>1 had no version, and the options of single formats among the choices of all. Until 2 nothing was accepted; until 3 tempo had no bounds of 10 and 50 samples; until 4 no flag was answered and no sheet asked for anything; until 5 no picture went as a file, markers went in all files, and no sheet asked for formats, a start or folders; until 6 mixes were of what goes, a click of two tones on each beat, and names had three fields and were not cleaned; until 7 all files had one rate, the session's, and one form, and a track went as one thing; until 8 kinds of files had no channels and places of their own, copies one bit rate, effects were oversampled as in the session, and clips were called as here; until 9 the click's file was called by the pattern; until 10 nothing replied to a package. The oldest that can say a preparation is written.</summary>
    public const int Version = 11;

    // Of documents without any of these, one after the other.
    private const int BeforeReplies = 10;
    private const int BeforeClickNames = 9;
    private const int BeforePlaces = 8;
    private const int BeforeKinds = 7;
    private const int BeforeMixes = 6;
    private const int BeforePictures = 5;
    private const int Before = 4;

    /// <summary>The oldest that is written.</summary>
    internal const int OldestWritten = Before;

    /// <summary>The property of how the picture goes; a receiver sheet says more of the picture in words of its own.</summary>
    internal const string PicturePart = "referencePicture";

    /// <summary>The property of what single kinds of files have otherwise.</summary>
    internal const string KindsPart = "kinds";

    /// <summary>The property of a row's further forms.</summary>
    internal const string BeneathPart = "beneath";

    /// <summary>The property of the effects that a row's prints do not go through.</summary>
    internal const string WithoutPart = "withoutEffects";

    /// <summary>The property of how many times single effects of a row are oversampled.</summary>
    internal const string OversampledPart = "oversampledEffects";

    /// <summary>The property of the package that is replied to.</summary>
    internal const string ReplyPart = "replyTo";

    private const string VersionProperty = "version";

    /// <summary>As UTF-8 JSON; the same preparation gives the same bytes.</summary>
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
        json.WriteNumber(VersionProperty, VersionOf(preparation));
        OptionJson.Write(json, PreparationOptions.Files, preparation);
        WritePart(json, "mix", PreparationOptions.Mix, preparation.Mix);
        WriteKinds(json, preparation.Kinds);
        WritePart(json, "midi", PreparationOptions.Midi, preparation.Midi);
        if (preparation.Picture != new PictureChoices())
        {
            WritePart(json, PicturePart, PreparationOptions.Picture, preparation.Picture);
        }

        if (preparation.Markers != MarkersForm.All)
        {
            WritePart(json, "markers", PreparationOptions.Markers, preparation);
        }

        json.WriteStartObject("click");
        OptionJson.Write(json, PreparationOptions.Click, preparation.Click);
        WriteAccents(json, preparation.Click);
        json.WriteEndObject();
        WriteClips(json, preparation.Clips);
        json.WriteStartArray("accepted");
        foreach (var name in preparation.Accepted)
        {
            json.WriteStringValue(name);
        }

        json.WriteEndArray();
        if (preparation.Answers.Count > 0)
        {
            WriteAnswers(json, preparation);
        }

        if (preparation.ReplyTo is { } manifest)
        {
            json.WriteString(ReplyPart, manifest);
        }

        if (preparation.Sheet is { } sheet)
        {
            WritePart(json, "sheet", PreparationOptions.Sheet, sheet);
        }

        json.WriteStartArray("tracks");
        foreach (var choice in preparation.Tracks)
        {
            json.WriteStartObject();
            json.WriteString("track", choice.TrackId);
            OptionJson.Write(json, PreparationOptions.Track, choice);
            WriteBeneath(json, choice);
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
        node.OnlyHas([VersionProperty, .. OptionJson.Names(PreparationOptions.Files), "mix", KindsPart, "midi", PicturePart, "markers", "click", "clips", "accepted", "answers", ReplyPart, "sheet", "tracks"]);
        var files = new Preparation
        {
            Mix = node.Optional("mix", new MixChoices(), n => ReadPart(n, PreparationOptions.Mix, new MixChoices())),
            Kinds = node.Optional(KindsPart, new KindChoices(), ReadKinds),
            Midi = node.Optional("midi", new MidiChoices(), n => ReadPart(n, PreparationOptions.Midi, new MidiChoices())),
            Picture = node.Optional(PicturePart, new PictureChoices(), n => ReadPart(n, PreparationOptions.Picture, new PictureChoices())),
            Click = node.Optional("click", new ClickChoices(), ReadClick),
            Clips = node.Optional("clips", new ClipChoices(SessionFormats.Usual), ReadClips),
            Accepted = node.List("accepted", n => n.Text()),
            Answers = Answers(node),
            ReplyTo = node.Optional<string?>(ReplyPart, null, n => n.Sum()),
            Sheet = node.Optional<SheetTerms?>("sheet", null, n => ReadPart(n, PreparationOptions.Sheet, new SheetTerms(string.Empty))),
            Tracks = node.List("tracks", ReadTrack),
        };
        files = node.Optional("markers", files, n => ReadPart(n, PreparationOptions.Markers, files));
        return OptionJson.Read(node, PreparationOptions.Files, files);
    }

    private static int VersionOf(Preparation preparation) =>
        preparation.ReplyTo is not null ? Version :
        preparation.Click.FileName is not null ? BeforeReplies :
        preparation.Oversampling is not null || preparation.Clips.NamedAfterTracks || preparation.Mix.CopyRate is not null || preparation.Kinds.Any(k => k.Value.Channels is not null || k.Value.Range == FileRange.Chosen || k.Value.Start is not null || k.Value.End is not null) || preparation.Tracks.Any(t => t.Oversampled.Count > 0) ? BeforeClickNames :
        preparation.Rate is not null || preparation.Tags || preparation.EndTail != 0 || preparation.Kinds.Any || preparation.Mix is { Finished: true } or { DryStems: true } || preparation.Clips.PerGroup || preparation.Sheet is { MutedClips: true }
            || preparation.Tracks.Any(t => t.Beneath.Count > 0 || t.Without.Count > 0 || t.Treatment is Treatment.PrintLevel or Treatment.StemOnly) ? BeforePlaces :
        preparation.Cleaning.Any || preparation.Version is not null || preparation.Date is not null || NamePattern.Fields.Except(NamePattern.FieldsOfBefore).Any(f => NamePattern.Has(preparation.NamePattern, f)) ||
        preparation.Mix.Sounding != MixSounding.WhatGoes || preparation.Tracks.Any(t => t.Marked || t.Take is not null || t.Spares) || preparation.Click is { Voice: not ClickVoice.Tones } or { Parts: not 1 } or { TempoInName: true } ? BeforeKinds
        : preparation.Picture != new PictureChoices() || preparation.Markers != MarkersForm.All || preparation.Sheet is not null ? BeforeMixes
        : preparation.Answers.Count > 0 ? BeforePictures
        : Before;

    private static void WritePart<T>(Utf8JsonWriter json, string name, OptionTable<T> options, T choices)
    {
        json.WriteStartObject(name);
        OptionJson.Write(json, options, choices);
        json.WriteEndObject();
    }

    private static T ReadPart<T>(DocumentNode node, OptionTable<T> options, T usual)
    {
        node.OnlyHas([.. OptionJson.Names(options)]);
        return OptionJson.Read(node, options, usual);
    }

    private static void WriteKinds(Utf8JsonWriter json, KindChoices kinds)
    {
        if (!kinds.Any)
        {
            return;
        }

        json.WriteStartObject(KindsPart);
        foreach (var (kind, choice) in kinds)
        {
            WritePart(json, Choices.FileKinds[kind].Id, PreparationOptions.Kind, choice);
        }

        json.WriteEndObject();
    }

    private static KindChoices ReadKinds(DocumentNode node)
    {
        node.OnlyHas([.. Choices.FileKinds.Select(k => k.Id)]);
        return Choices.FileKinds.Where(k => node.Has(k.Id)).Aggregate(new KindChoices(), (kinds, k) => kinds.With(k.Value, ReadPart(node[k.Id], PreparationOptions.Kind, new KindChoice())));
    }

    private static void WriteAnswers(Utf8JsonWriter json, Preparation preparation)
    {
        json.WriteStartArray("answers");
        foreach (var answer in preparation.Answers)
        {
            json.WriteStartObject();
            json.WriteString("flag", answer.Code);
            json.WriteString("words", answer.Words);
            json.WriteBoolean("accepted", answer.Accepted);
            json.WriteString("note", answer.Note);
            json.WriteStartArray("objects");
            foreach (var one in answer.Objects)
            {
                json.WriteStringValue(one);
            }

            json.WriteEndArray();
            json.WriteEndObject();
        }

        json.WriteEndArray();
    }

    private static ValueArray<FlagAnswer> Answers(DocumentNode node)
    {
        var answers = node.List("answers", ReadAnswer);
        return answers.Select(a => a.Code).Distinct().Count() == answers.Count ? answers : throw node["answers"].Error(DocumentCodes.BadValue, "A flag is answered once.");
    }

    private static FlagAnswer ReadAnswer(DocumentNode node)
    {
        node.OnlyHas("flag", "words", "accepted", "note", "objects");
        return new FlagAnswer(node["flag"].Text(), node["words"].Text(), node["accepted"].Truth(), node["note"].Text(), node.List("objects", n => n.Text()));
    }

    private static TrackChoice ReadTrack(DocumentNode node)
    {
        node.OnlyHas(["track", .. OptionJson.Names(PreparationOptions.Track), BeneathPart, WithoutPart, OversampledPart]);
        var oversampled = node.List(OversampledPart, ReadOversampled);
        if (oversampled.Select(o => o.Effect).Distinct().Count() < oversampled.Count)
        {
            throw node[OversampledPart].Error(DocumentCodes.BadValue, "An effect is oversampled in one way.");
        }

        return OptionJson.Read(node, PreparationOptions.Track, new TrackChoice(node["track"].Text(), Treatment.HoldBack)) with
        {
            Beneath = node.List(BeneathPart, n => ReadPart(n, PreparationOptions.Beneath, new BeneathChoice(Treatment.HoldBack))),
            Without = node.List(WithoutPart, n => n.Text()),
            Oversampled = oversampled,
        };
    }

    private static (string Effect, int Times) ReadOversampled(DocumentNode node)
    {
        node.OnlyHas("effect", "times");
        var times = node["times"].Whole();
        return EffectOversampling.Factors.Contains(times) ? (node["effect"].Text(), (int)times) : throw node["times"].Error(DocumentCodes.BadValue, "Effects are oversampled 1, 2 or 4 times.");
    }

    private static void WriteBeneath(Utf8JsonWriter json, TrackChoice choice)
    {
        if (choice.Beneath.Count > 0)
        {
            json.WriteStartArray(BeneathPart);
            foreach (var form in choice.Beneath)
            {
                json.WriteStartObject();
                OptionJson.Write(json, PreparationOptions.Beneath, form);
                json.WriteEndObject();
            }

            json.WriteEndArray();
        }

        if (choice.Oversampled.Count > 0)
        {
            json.WriteStartArray(OversampledPart);
            foreach (var (effect, times) in choice.Oversampled)
            {
                json.WriteStartObject();
                json.WriteString("effect", effect);
                json.WriteNumber("times", times);
                json.WriteEndObject();
            }

            json.WriteEndArray();
        }

        if (choice.Without.Count > 0)
        {
            json.WriteStartArray(WithoutPart);
            foreach (var effect in choice.Without)
            {
                json.WriteStringValue(effect);
            }

            json.WriteEndArray();
        }
    }

    private static void WriteAccents(Utf8JsonWriter json, ClickChoices click)
    {
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
    }

    private static ClickChoices ReadClick(DocumentNode node)
    {
        node.OnlyHas([.. OptionJson.Names(PreparationOptions.Click), "accents"]);
        return OptionJson.Read(node, PreparationOptions.Click, new ClickChoices(Accents: node.List("accents", ReadAccents)));
    }

    private static void WriteClips(Utf8JsonWriter json, ClipChoices clips)
    {
        json.WriteStartObject("clips");
        json.WriteString("file", clips.Format.Id);
        OptionJson.Write(json, PreparationOptions.Clips, clips);
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
        node.OnlyHas(["file", .. OptionJson.Names(PreparationOptions.Clips), "options", .. options.Select(o => o.FormerId).OfType<string>()]);
        var usual = new ClipChoices(node.Optional("file", SessionFormats.Usual, Format)) { Options = Options(node, options) };
        return OptionJson.Read(node, PreparationOptions.Clips, usual);
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
