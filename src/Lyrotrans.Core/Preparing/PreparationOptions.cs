using System.Globalization;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Preparing;

/// <summary>Every option of a preparation, part by part. What the formats of clips let choose beside these is in their own folders.</summary>
public static class PreparationOptions
{
    /// <summary>What stands for a choice that was not made for a kind of files.</summary>
    public const string AsUsual = "usual";

    private const string Day = "yyyy-MM-dd";
    private const int SlowestHz = 8000;
    private const int FastestHz = 768_000;
    private static readonly long[] s_rates = [44_100, 48_000, 88_200, 96_000, 176_400, 192_000];

    /// <summary>Names, range and format of the files from zero.</summary>
    public static OptionTable<Preparation> Files { get; } = new()
    {
        new TextOption<Preparation>(
            "namePattern", "names", "What files are called; what stands in braces is filled in: " + string.Join(", ", NamePattern.Fields) + ".",
            p => p.NamePattern, (p, value) => p with { NamePattern = value! }, p => $"names by {p.NamePattern}")
        {
            Required = true,
            Problem = NamePattern.Problem,
        },
        {
            "from", "files from", "Where all files begin.", Choices.Starts, p => p.From, (p, value) => p with { From = value }, true, Start
        },
        new WholeOption<Preparation>("chosenStart", "chosen start", "For a chosen start: the session sample at which all files begin.", p => p.ChosenStart, (p, value) => p with { ChosenStart = value!.Value }, Start)
        {
            Required = true,
            Unit = WholeUnit.Place,
            Range = Positions.PositionText.Places,
        },
        new WholeOption<Preparation>("tail", "tail", "What is added after the last sound, in session samples.", p => p.Tail, (p, value) => p with { Tail = value!.Value }, p => $"tail {p.Tail} samples")
        {
            Required = true,
            Unit = WholeUnit.Duration,
            Least = 0,
            MostSeconds = 3600,
            Range = "0 to 3600 seconds",
        },
        {
            "encoding", "depth", "How the samples of sound files are stored.", Choices.Encodings, p => p.Encoding, (p, value) => p with { Encoding = value }, true
        },
        {
            "container", "file format", "The format of sound files.", Choices.Containers, p => p.Container, (p, value) => p with { Container = value }, true
        },
        new WholeOption<Preparation>(
            "chosenEnd", "chosen end", "One past the session sample at which all files end; without it they end with the last sound and its tail.",
            p => p.ChosenEnd, (p, value) => p with { ChosenEnd = value }, p => p.ChosenEnd is { } sample ? $"files to sample {sample}" : "files to the last sound")
        {
            Unit = WholeUnit.Place,
            AtEnd = true,
            MayBeEmpty = true,
            Range = Positions.PositionText.Places,
        },
        new WholeOption<Preparation>(
            "endTail", "tail after it, s", "What is added after a chosen end, in session samples.", p => p.EndTail == 0 ? null : p.EndTail, (p, value) => p with { EndTail = value ?? 0 }, p => $"tail of {p.EndTail} samples after the chosen end")
        {
            Unit = WholeUnit.Duration,
            MayBeEmpty = true,
            Least = 0,
            MostSeconds = 600,
            Range = "0 to 600 seconds",
        },
        new WholeOption<Preparation>(
            "longestTail", "longest tail, s", "The longest that effects may sound on after the last sound, in session samples.",
            p => p.LongestTail, (p, value) => p with { LongestTail = value }, p => p.LongestTail is { } longest ? $"longest tail {longest} samples" : "longest tail as usual")
        {
            Unit = WholeUnit.Duration,
            MayBeEmpty = true,
            Least = 0,
            MostSeconds = 600,
            Range = "0 to 600 seconds",
        },
        {
            "overs", "above full scale", "What is done with sound above full scale.", Choices.Overs, p => p.Overs, (p, value) => p with { Overs = value }
        },
        {
            "dither", "dither to 16 bit", "The noise that is added where bits are lost to 16.", Choices.Dithers, p => p.Dither, (p, value) => p with { Dither = value }
        },
        new TruthOption<Preparation>("ditherTo24", "dither to 24 bit", "Whether flat noise is added where bits are lost to 24 too.", p => p.DitherTo24, (p, value) => p with { DitherTo24 = value }, "no dither to 24 bit", "dither to 24 bit too")
        {
            Words = ("none", "flat"),
        },
        new WholeOption<Preparation>("deliveredRate", "rate, Hz", "Samples a second of all files; the session's, where it is not said.", p => p.Rate, (p, value) => p with { Rate = value }, p => p.Rate is { } rate ? $"files at {rate} Hz" : "files at the session's rate")
        {
            MayBeEmpty = true,
            Least = SlowestHz,
            Most = FastestHz,
            Offered = s_rates,
            Range = $"{SlowestHz} to {FastestHz} Hz",
        },
        new TruthOption<Preparation>("tags", "tempo and key in files", "Whether sound files say tempo and key of themselves, where these do not change.", p => p.Tags, (p, value) => p with { Tags = value }, "no tempo and key in files", "tempo and key in files")
        {
            OnlyTrue = true,
        },
        new WholeOption<Preparation>("oversampling", "oversampling", "How many times effects that can be oversampled are, in all that goes through them; as in the session, where it is not said.", p => p.Oversampling, (p, value) => p with { Oversampling = value }, p => p.Oversampling is { } times ? $"effects oversampled {times} times" : "oversampling as in the session")
        {
            MayBeEmpty = true,
            Least = 1,
            Most = 4,
            Offered = EffectOversampling.Factors,
            OnlyOffered = true,
            OfferedIn = "times",
            Range = "1, 2 or 4",
        },
        new TextOption<Preparation>("nameVersion", "version", "What {version} in names stands for.", p => p.Version, (p, value) => p with { Version = string.IsNullOrWhiteSpace(value) ? null : value.Trim() }, p => p.Version is null ? "no version" : $"version {p.Version}")
        {
            Problem = text => text.Length > 30 ? "A version has 30 characters at most." : null,
        },
        new TextOption<Preparation>("nameDate", "date", "What {date} in names stands for: the day of the revision, such as 2026-03-21.", p => p.Date?.ToString(Day, CultureInfo.InvariantCulture), (p, value) => p with { Date = DayOf(value) }, p => p.Date is null ? "no date" : $"date {p.Date?.ToString(Day, CultureInfo.InvariantCulture)}")
        {
            Problem = text => text.Length == 0 || DayOf(text) is not null ? null : $"\"{text}\" is no date; one looks like 2026-03-21.",
        },
        Cleaning("cleanNumbers", "numbers in front", "Whether a number in front of a track's name is taken off where names have an order of their own.", c => c.Numbers, (c, value) => c with { Numbers = value }),
        Cleaning("cleanDates", "date stamps", "Whether date and time stamps are taken off names.", c => c.Dates, (c, value) => c with { Dates = value }),
        Cleaning("cleanTakes", "take numbers", "Whether take numbers are taken off names.", c => c.Takes, (c, value) => c with { Takes = value }),
        Cleaning("cleanCopies", "copy marks", "Whether what copying leaves is taken off names.", c => c.Copies, (c, value) => c with { Copies = value }),
        Cleaning("cleanPrints", "print marks", "Whether what printing leaves is taken off names.", c => c.Prints, (c, value) => c with { Prints = value }),
        Cleaning("cleanSpaces", "double blanks", "Whether doubled blanks and underscores are made one.", c => c.Spaces, (c, value) => c with { Spaces = value }),
    };

    /// <summary>What goes along besides the tracks.</summary>
    public static OptionTable<MixChoices> Mix { get; } = new()
    {
        new TruthOption<MixChoices>("stems", "stems", "Whether a finished file of every group of tracks goes along.", m => m.Stems, (m, value) => m with { Stems = value }, "no stems", "stems go"),
        {
            "master", "taken", "Where stems and guide mix are taken.", Choices.Masters, m => m.Master, (m, value) => m with { Master = value }
        },
        new TruthOption<MixChoices>("guide", "guide mix", "Whether the mix is a file of its own.", m => m.Guide, (m, value) => m with { Guide = value }, "no guide mix", "guide mix goes"),
        {
            "copies", "copies to listen to", "Of which files a copy to listen to goes along.", Choices.Copies, m => m.Copies, (m, value) => m with { Copies = value }
        },
        {
            "copyForm", "copied as", "The format of copies to listen to.", Choices.CopyForms, m => m.CopyForm, (m, value) => m with { CopyForm = value }
        },
        new TruthOption<MixChoices>("levels", "levels", "Whether a table of levels and loudness of every sound file goes along.", m => m.Levels, (m, value) => m with { Levels = value }, "no table of levels", "table of levels goes"),
        new ChoiceOption<MixChoices>(
            "sounding", "in guide mix and returns", "Which tracks sound in the guide mix, and in prints of returns and buses: those that go, where it is not said.", [.. Choices.Soundings.Select(c => (c.Id, c.Words))],
            m => Choices.Soundings[m.Sounding].Id, (m, value) => m with { Sounding = Choices.Soundings.ById[value] }, m => Choices.Soundings[m.Sounding].Change)
        {
            Unsaid = Choices.Soundings[MixSounding.WhatGoes].Id,
        },
        new TruthOption<MixChoices>("dryStems", "stems dry", "Whether stems are without effects and returns, at their levels and pans.", m => m.DryStems, (m, value) => m with { DryStems = value }, "stems with effects", "stems without effects")
        {
            OnlyTrue = true,
        },
        new WholeOption<MixChoices>("copyRate", "bit rate, kbit/s", "The bit rate of copies to listen to; about 190 of Ogg and 256 of MP3, where it is not said. Ogg keeps to it on average, MP3 always.", m => m.CopyRate, (m, value) => m with { CopyRate = value }, m => m.CopyRate is { } rate ? $"copies of {rate} kbit/s" : "copies of the usual bit rate")
        {
            MayBeEmpty = true,
            Least = 96,
            Most = 320,
            Offered = [96, 128, 160, 192, 256, 320],
            OnlyOffered = true,
            OfferedIn = "kbit/s",
            Range = "96, 128, 160, 192, 256 or 320 kbit/s",
        },
        new TruthOption<MixChoices>("finished", "finished mix", "Whether the mix through the master goes as a file to listen to.", m => m.Finished, (m, value) => m with { Finished = value }, "no finished mix", "finished mix goes")
        {
            OnlyTrue = true,
        },
    };

    /// <summary>How the files of one kind differ from all files.</summary>
    public static OptionTable<KindChoice> Kind { get; } = new()
    {
        OfKind("range", "covers", "What the files cover.", Choices.FileRanges, k => k.Range, (k, value) => k with { Range = value }),
        new WholeOption<KindChoice>("rate", "rate, Hz", "Samples a second.", k => k.Rate, (k, value) => k with { Rate = value }, k => k.Rate is { } rate ? $"{rate} Hz" : "rate of all files")
        {
            MayBeEmpty = true,
            Least = SlowestHz,
            Most = FastestHz,
            Offered = s_rates,
            Range = $"{SlowestHz} to {FastestHz} Hz",
        },
        OfKind("encoding", "depth", "How samples are stored.", Choices.Encodings, k => k.Encoding, (k, value) => k with { Encoding = value }),
        OfKind("dither", "dither to 16 bit", "The noise that is added where bits are lost to 16.", Choices.Dithers, k => k.Dither, (k, value) => k with { Dither = value }),
        OfKind("container", "file format", "The file format.", Choices.Containers, k => k.Container, (k, value) => k with { Container = value }),
        new ChoiceOption<KindChoice>(
            "channels", "channels", "How many channels the files have.", [(AsUsual, "as usual"), .. Choices.Channels.Where(c => c.Value != DeliveredChannels.AsTrack).Select(c => (c.Id, c.Words))],
            k => k.Channels is { } channels ? Choices.Channels[channels].Id : AsUsual, (k, value) => k with { Channels = value == AsUsual ? null : Choices.Channels.ById[value] }, k => k.Channels is { } channels ? Choices.Channels[channels].Change : "channels as usual")
        {
            Unsaid = AsUsual,
        },
        new WholeOption<KindChoice>("start", "from", "For places of their own: the session sample at which the files begin; where all files begin, where it is not said.", k => k.Start, (k, value) => k with { Start = value }, k => k.Start is { } start ? $"from sample {start}" : "from where all files begin")
        {
            Unit = WholeUnit.Place,
            MayBeEmpty = true,
            Range = Positions.PositionText.Places,
        },
        new WholeOption<KindChoice>("end", "to", "For places of their own: one past the session sample at which the files end; where all files end, where it is not said.", k => k.End, (k, value) => k with { End = value }, k => k.End is { } end ? $"to sample {end}" : "to where all files end")
        {
            Unit = WholeUnit.Place,
            AtEnd = true,
            MayBeEmpty = true,
            Range = Positions.PositionText.Places,
        },
        OfKind("also", "and as", "Another format in which the same sound goes along.", Choices.Containers, k => k.Also, (k, value) => k with { Also = value }),
    };

    /// <summary>How the reference picture goes.</summary>
    public static OptionTable<PictureChoices> Picture { get; } = new()
    {
        {
            "extent", "picture", "Whether the reference picture goes as a file, without its sound, and how much of it.", Choices.PictureExtents, p => p.Extent, (p, value) => p with { Extent = value }
        },
        {
            "form", "coded as", "What the reference picture is coded as.", Choices.PictureForms, p => p.Form, (p, value) => p with { Form = value }
        },
    };

    /// <summary>In which files markers go.</summary>
    public static OptionTable<Preparation> Markers { get; } = new()
    {
        {
            "form", "markers", "In which files markers go; the session document keeps them always.", Choices.MarkerForms, p => p.Markers, (p, value) => p with { Markers = value }
        },
    };

    /// <summary>How notes and the tempo map go out as MIDI.</summary>
    public static OptionTable<MidiChoices> Midi { get; } = new()
    {
        {
            "form", "MIDI", "How parts become MIDI files.", Choices.MidiForms, m => m.Form, (m, value) => m with { Form = value }, true
        },
        {
            "tempo", "tempo", "How near tempo keeps every beat, note, controller and marker to its sample.", Choices.Tempos, m => m.Tempo, (m, value) => m with { Tempo = value }, true
        },
        new TruthOption<MidiChoices>("mutedParts", "muted parts", "Whether muted parts go too.", m => m.MutedParts, (m, value) => m with { MutedParts = value }, "muted parts stay out", "muted parts go")
        {
            Required = true,
            Words = ("stay out", "go too"),
        },
    };

    /// <summary>Whether and how a click goes; the accents of meters are typed beside these.</summary>
    public static OptionTable<ClickChoices> Click { get; } = new()
    {
        new TruthOption<ClickChoices>("print", "print", "Whether the click goes as a sound file.", c => c.Print, (c, value) => c with { Print = value }, "no click printed", "click printed")
        {
            Required = true,
        },
        new TruthOption<ClickChoices>("midi", "notes", "Whether the click goes as a part in the MIDI file.", c => c.Midi, (c, value) => c with { Midi = value }, "no click as notes", "click as notes")
        {
            Required = true,
        },
        new NumberOption<ClickChoices>("levelDb", "peak", "The peak of a bar's first beat, in dBFS.", c => c.LevelDb, (c, value) => c with { LevelDb = value }, c => $"click at {Decibels.Words(c.LevelDb)} dBFS")
        {
            Required = true,
            Least = -24,
            Most = 0,
            Range = "−24 to 0 dBFS",
        },
        new WholeOption<ClickChoices>("countInBars", "count-in, bars", "Whole bars of click before the start.", c => c.CountInBars, (c, value) => c with { CountInBars = (int)value!.Value }, CountIn)
        {
            Required = true,
            Least = 0,
            Most = ClickChoices.MostCountInBars,
            Range = $"0 to {ClickChoices.MostCountInBars} bars",
        },
        {
            "countIn", "begin early", "What begins with the count-in.", Choices.CountIns, c => c.CountIn, (c, value) => c with { CountIn = value }, true, CountIn
        },
        new ChoiceOption<ClickChoices>("voice", "sounds like", "What a click sounds like: two tones, where it is not said.", [.. Choices.Voices.Select(c => (c.Id, c.Words))], c => Choices.Voices[c.Voice].Id, (c, value) => c with { Voice = Choices.Voices.ById[value] }, c => Choices.Voices[c.Voice].Change)
        {
            Unsaid = Choices.Voices[ClickVoice.Tones].Id,
        },
        new WholeOption<ClickChoices>("parts", "clicks a beat", "How many clicks a beat has: those between beats are softer; one, where it is not said.", c => c.Parts == 1 ? null : c.Parts, (c, value) => c with { Parts = (int)(value ?? 1) }, c => c.Parts == 1 ? "a click a beat" : $"{c.Parts} clicks a beat")
        {
            MayBeEmpty = true,
            Least = 1,
            Most = ClickChoices.MostParts,
            Range = $"1 to {ClickChoices.MostParts}",
        },
        new TruthOption<ClickChoices>("tempoInName", "says the tempo", "Whether the name of the click's file says the tempo.", c => c.TempoInName, (c, value) => c with { TempoInName = value }, "no tempo in the click's name", "tempo in the click's name")
        {
            OnlyTrue = true,
        },
        new TextOption<ClickChoices>("fileName", "called", "What the click's file is called, without extension; without it the pattern's name is taken.", c => c.FileName, (c, value) => c with { FileName = string.IsNullOrWhiteSpace(value) ? null : value.Trim() }, c => c.FileName is null ? "the click's name from the pattern" : $"click called {c.FileName}")
        {
            Problem = value => value.Length <= ClickChoices.LongestName ? null : $"A name of a file is no longer than {ClickChoices.LongestName} characters.",
        },
    };

    /// <summary>How tracks that are kept as clips go into a file of clips, of whichever format.</summary>
    public static OptionTable<ClipChoices> Clips { get; } = new()
    {
        {
            "media", "sound", "Where the sound of clips lies, and as what.", Choices.ClipMedia, c => c.Media, (c, value) => c with { Media = value }
        },
        {
            "depth", "bits", "How the samples of clips are stored.", Choices.ClipDepths, c => c.Depth, (c, value) => c with { Depth = value }
        },
        new TruthOption<ClipChoices>("trimmed", "of it", "Whether only what clips use goes along, and their handles.", c => c.Trimmed, (c, value) => c with { Trimmed = value }, "whole media", "media trimmed")
        {
            Words = ("whole media", "what clips use"),
        },
        new WholeOption<ClipChoices>("handle", "handles", "For trimmed media: the sound before and after each clip that goes along, in the unit of handleUnit.", c => c.Handle, (c, value) => c with { Handle = value!.Value }, Handles)
        {
            Least = 0,
            Most = ClipChoices.LongestHandle,
            Range = "a whole number of milliseconds, frames or samples",
        },
        {
            "handleUnit", "unit of the handle", "What a handle is counted in.", Choices.HandleUnits, c => c.HandleUnit, (c, value) => c with { HandleUnit = value }, false, Handles
        },
        new TruthOption<ClipChoices>("monoOnly", "stereo", "Whether a track of several channels goes as so many mono tracks.", c => c.MonoOnly, (c, value) => c with { MonoOnly = value }, "stereo kept", "mono tracks only")
        {
            Words = ("kept", "split to mono"),
        },
        new TruthOption<ClipChoices>("renderGain", "clip gain", "Whether clip gain becomes part of the media.", c => c.RenderGain, (c, value) => c with { RenderGain = value }, "gain as gain", "gain in the media")
        {
            Words = ("as gain", "in the sound"),
        },
        {
            "fades", "fades", "How fades go.", Choices.Fades, c => c.Fades, (c, value) => c with { Fades = value }
        },
        {
            "volume", "volume", "How the fader and its automation go.", Choices.Volumes, c => c.Volume, (c, value) => c with { Volume = value }
        },
        {
            "pan", "pan", "How pan goes.", Choices.Pans, c => c.Pan, (c, value) => c with { Pan = value }
        },
        new TruthOption<ClipChoices>("frameUnits", "places", "Whether places are whole frames, for receivers that take no finer ones.", c => c.FrameUnits, (c, value) => c with { FrameUnits = value }, "places in samples", "places in frames")
        {
            Words = ("in samples", "in frames"),
        },
        new TruthOption<ClipChoices>("namedAfterTracks", "clips called", "Whether media, and clips with them, are called after their tracks as these are delivered, with a number.", c => c.NamedAfterTracks, (c, value) => c with { NamedAfterTracks = value }, "clips called as here", "clips called after their tracks")
        {
            Words = ("as here", "after their tracks"),
            OnlyTrue = true,
        },
        new TruthOption<ClipChoices>("perGroup", "files", "Whether there is a file for the tracks of each stem or bus.", c => c.PerGroup, (c, value) => c with { PerGroup = value }, "clips in one file", "a file of clips for each stem or bus")
        {
            Words = ("one", "one a stem or bus"),
            OnlyTrue = true,
        },
    };

    /// <summary>What a receiver sheet asks for beside choices.</summary>
    public static OptionTable<SheetTerms> Sheet { get; } = new()
    {
        new TextOption<SheetTerms>("name", "sheet", "What the sheet is called.", s => s.Name, (s, value) => s with { Name = value ?? string.Empty }, s => $"sheet {s.Name}")
        {
            Required = true,
        },
        new TextOption<SheetTerms>("notes", "notes", "What else people should know.", s => s.Notes.Length > 0 ? s.Notes : null, (s, value) => s with { Notes = value ?? string.Empty }, _ => "notes"),
        new WholeOption<SheetTerms>("largestFile", "largest file, bytes", "The largest file that the room takes, in bytes.", s => s.LargestFile, (s, value) => s with { LargestFile = value }, _ => "largest file")
        {
            MayBeEmpty = true,
            Least = 1 << 20,
            Range = "1 MiB or more",
        },
        new WholeOption<SheetTerms>("longestName", "longest name", "The longest name of a track or file without its extension, in characters.", s => s.LongestName, (s, value) => s with { LongestName = value }, _ => "longest name")
        {
            MayBeEmpty = true,
            Least = SheetTerms.ShortestName,
            Most = 255,
            Range = $"{SheetTerms.ShortestName} to 255 characters",
        },
        {
            "letters", "letters of names", "Which characters names may have.", Choices.Letters, s => s.Letters, (s, value) => s with { Letters = value }
        },
        new WholeOption<SheetTerms>("rate", "rate, Hz", "Samples a second of all files.", s => s.Rate, (s, value) => s with { Rate = value }, _ => "rate")
        {
            MayBeEmpty = true,
            Least = 8000,
            Most = 384_000,
            Range = "8000 to 384000 Hz",
        },
        new TextOption<SheetTerms>("frameRate", "frames a second", "By name, such as 25 or 29.97 drop.", s => s.FrameRate, (s, value) => s with { FrameRate = value }, _ => "frame rate")
        {
            Problem = name => name.Length == 0 || Time.FrameRate.All.Any(r => r.Name == name) ? null : $"There is no frame rate \"{name}\"; there are {Phrases.List([.. Time.FrameRate.All.Select(r => r.Name)], "and")}.",
        },
        new TextOption<SheetTerms>("formats", "formats of clips", "Formats of clips that the room takes, the one that it likes best first, parted by commas; the first is chosen.", s => s.Formats, (s, value) => s with { Formats = value }, _ => "formats of clips"),
        new TextOption<SheetTerms>("start", "start timecode", "The timecode at which all files start, such as 01:00:00:00.", s => s.Start, (s, value) => s with { Start = value }, _ => "start timecode")
        {
            Problem = text => text.Length == 0 || Time.FrameRate.All.Any(r => Time.Timecode.TryParse(text, r, out var _)) ? null : $"\"{text}\" is no timecode; one looks like 01:00:00:00.",
        },
        new TruthOption<SheetTerms>("mutedClips", "reads muted clips", "Whether clips that are muted are read there as what they are.", s => s.MutedClips, (s, value) => s with { MutedClips = value }, "muted clips are not read", "muted clips are read")
        {
            OnlyTrue = true,
        },
        {
            "folders", "folders", "How files are laid out.", Choices.Folders, s => s.Folders, (s, value) => s with { Folders = value }
        },
        new TextOption<SheetTerms>("picture", "picture", "What else the picture should be, in words.", s => s.Picture, (s, value) => s with { Picture = value }, _ => "picture"),
    };

    /// <summary>What a row of the track sheet says of its track.</summary>
    public static OptionTable<TrackChoice> Track { get; } = new()
    {
        {
            "treatment", "treatment", "What becomes of the track.", Choices.Treatments, t => t.Treatment, (t, value) => t with { Treatment = value }, true
        },
        {
            "channels", "channels", "How many channels the track is delivered with.", Choices.Channels, t => t.Channels, (t, value) => t with { Channels = value }, true
        },
        new TextOption<TrackChoice>("name", "delivered as", "A delivered name that was typed in; without it the pattern's is taken.", t => t.Name, (t, value) => t with { Name = value }, t => t.Name is null ? "name from the pattern" : $"delivered as {t.Name}"),
        new TextOption<TrackChoice>("group", "stem", "The stem that the track goes into; without it that of the bus that it feeds.", t => t.Group, (t, value) => t with { Group = value }, t => t.Group is null ? "stem by its bus" : $"stem {t.Group}"),
        new TruthOption<TrackChoice>("inverted", "polarity", "Whether the track is printed with its polarity inverted.", t => t.Inverted, (t, value) => t with { Inverted = value }, "polarity as it is", "polarity inverted")
        {
            Words = ("+", "−"),
            OnlyTrue = true,
            FormerId = "turned",
        },
        new TruthOption<TrackChoice>("marked", "marked", "Whether the track is among those that the mix calls marked.", t => t.Marked, (t, value) => t with { Marked = value }, "not marked for mixes", "marked for mixes")
        {
            OnlyTrue = true,
        },
        new TextOption<TrackChoice>("take", "take", "The name of the take that sounds; without it the one that sounds in the session.", t => t.Take, (t, value) => t with { Take = value }, t => t.Take is null ? "the take that sounds here" : $"take {t.Take} sounds"),
        new TruthOption<TrackChoice>("spares", "spare takes", "Whether the other takes go too, each as a track beneath.", t => t.Spares, (t, value) => t with { Spares = value }, "spare takes stay", "spare takes go as tracks beneath")
        {
            OnlyTrue = true,
        },
    };

    /// <summary>A further form of a track, muted beneath.</summary>
    public static OptionTable<BeneathChoice> Beneath { get; } = new()
    {
        {
            "treatment", "treatment", "What it becomes there.", Choices.Treatments, b => b.Treatment, (b, value) => b with { Treatment = value }, true
        },
        new TextOption<BeneathChoice>("name", "delivered as", "A delivered name that was typed in; without it the pattern's is taken.", b => b.Name, (b, value) => b with { Name = value }, b => b.Name is null ? "name from the pattern" : $"delivered as {b.Name}"),
    };

    private static ChoiceOption<KindChoice> OfKind<T>(string id, string label, string about, ChoiceList<T> list, Func<KindChoice, T?> of, Func<KindChoice, T?, KindChoice> with)
        where T : struct, Enum =>
        new(id, label, about, [(AsUsual, "as usual"), .. list.Select(c => (c.Id, c.Words))],
            k => of(k) is { } value ? list[value].Id : AsUsual, (k, value) => with(k, value == AsUsual ? null : list.ById[value]), k => of(k) is { } value ? $"{(id == "also" ? "also " : string.Empty)}{list[value].Change}" : $"{label} as usual")
        {
            Unsaid = AsUsual,
        };

    private static TruthOption<Preparation> Cleaning(string id, string label, string about, Func<NameCleaning, bool> of, Func<NameCleaning, bool, NameCleaning> with) =>
        new(id, label, about, p => of(p.Cleaning), (p, value) => p with { Cleaning = with(p.Cleaning, value) }, $"{label} stay in names", $"{label} off names") { OnlyTrue = true };

    private static DateOnly? DayOf(string? text) => DateOnly.TryParseExact(text, Day, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day : null;

    private static string Start(Preparation p) => p.From == RangeStart.Chosen ? $"files from sample {p.ChosenStart}" : Choices.Starts[p.From].Change;

    private static string CountIn(ClickChoices c) => $"count-in of {c.CountInBars}, {Choices.CountIns[c.CountIn].Change}";

    private static string Handles(ClipChoices c) => $"handles of {c.Handle} {Choices.HandleUnits[c.HandleUnit].Words}";
}
