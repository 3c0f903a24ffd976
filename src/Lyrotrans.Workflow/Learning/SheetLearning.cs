using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Learning;

/// <summary>
/// Proposes a receiver sheet from files that the receiving side wrote: what they have is what it takes. Where files do not agree a field stays open, and so does everything that no file shows.
/// </summary>
public sealed class SheetLearning
{
    // Names that were cut off end at one length; that two do may be chance.
    private const int NamesOfALimit = 3;
    private static readonly JsonSerializerOptions s_indented = new() { WriteIndented = true, NewLine = "\n", Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
    private readonly List<(string Path, string What, string Words, JsonNode Value, string In)> _seen = [];
    private readonly List<LearntLine> _told = [];
    private readonly List<(string Name, string In)> _names = [];
    private readonly List<(string File, SmfFile Smf)> _midi = [];

    private SheetLearning()
    {
    }

    /// <param name="name">What the sheet is to be called.</param>
    /// <param name="files">Files that the receiving side wrote, with their names.</param>
    /// <exception cref="BadInputException">A file cannot be read, or shows nothing; says which. Nothing is learnt from the others then.</exception>
    public static LearntSheet Learn(string name, IReadOnlyList<(IStoredFile File, string Name)> files)
    {
        var learning = new SheetLearning();
        foreach (var (file, called) in files)
        {
            try
            {
                learning.Look(file, called);
            }
            catch (EndOfStreamException)
            {
                throw new BadInputException(FileCodes.CutShort, called, string.Empty, "The file ends too early.", "It was cut short; ask for it again.");
            }
        }

        learning.Midi();
        learning.Names();
        return learning.Sheet(name);
    }

    private void Look(IStoredFile file, string name)
    {
        using var stream = file.Open();
        switch (ContentSniffer.Recognise(stream))
        {
            case ContentKind.Session when SessionDocuments.Open(stream, name) is IEditDocument document:
                Document(document, SessionFormats.OfClips.First(f => f.Id == ContentSniffer.FormatOf(stream)!.Id).Clips, name);
                break;
            case ContentKind.Midi:
                _midi.Add((name, SmfReader.Read(stream, name)));
                break;
            case ContentKind.Wave or ContentKind.Aiff or ContentKind.Flac or ContentKind.Ogg or ContentKind.Mp3:
                Sound(file, name);
                break;
            default:
                throw new BadInputException(LearningCodes.NothingToLearn, name, string.Empty, $"Nothing of what a room takes can be seen in this: it is no sound, no MIDI and no {SessionFormats.Words("or")} file.", "Leave it out.");
        }
    }

    private void Document(IEditDocument document, ClipFormat format, string name)
    {
        var read = document.Read();
        Seen("clips/file", "clips as", format.Id, format.Id, name);
        Seen("audio", "tracks", "as clips", "keep clips", name);
        Rate(read.Rate, name);
        var frames = FrameRate.All.Where(f => f.PerSecond == read.FrameRate && f.Drop == read.DropFrame).ToList();
        if (frames.Count > 0)
        {
            Seen("frameRate", "frame rate", frames[0].Name, frames[0].Name, name);
        }

        var inFrames = read.EditRate == read.FrameRate;
        Seen("clips/frameUnits", "places", inFrames ? "whole frames" : "samples", inFrames, name);
        foreach (var option in format.Options.Where(o => document.OwnOptions.ContainsKey(o.Id)))
        {
            var value = document.OwnOptions[option.Id];
            Seen($"clips/options/{option.Id}", option.Name, option.Values.FirstOrDefault(v => v.Id == value)?.Words ?? value, value, name);
        }

        var media = read.Media.Values.ToList();
        foreach (var form in media.Select(FormOf).OfType<ClipMediaForm>().Distinct().Where(format.Media.Contains))
        {
            Seen("clips/media", "sound of clips", Choices.ClipMedia[form].Words, Choices.ClipMedia[form].Id, name);
        }

        foreach (var bits in media.Where(m => m.Bits > 0 && !m.IsFloat).Select(m => m.Bits).Distinct())
        {
            if (bits is 16 or 24)
            {
                Seen("clips/depth", "depth of clips", $"{bits} bit", $"integer {bits}", name);
            }
            else
            {
                _told.Add(new LearntLine("depth of clips", $"{bits} bit", [name], false));
            }
        }

        var tracks = read.Tracks.Where(t => t.Clips.Count > 0).ToList();
        if (tracks.Count > 0)
        {
            var mono = tracks.All(t => t.Clips.All(c => c.Channel > 0 || read.Media[c.Media].Channels == 1));
            Seen("clips/monoOnly", "channels of tracks", mono ? "mono only" : "more than one", mono, name);
        }

        Fades(tracks, name);
        Tell("clip gain", tracks.SelectMany(t => t.Clips).Count(c => c.Gain != 1 || !c.GainCurve.IsEmpty), "clip", name);
        Tell("volume rides", tracks.Count(t => !t.FaderAutomation.IsEmpty), "track", name);
        Tell("markers", read.Markers.Count, "marker", name);
        _names.AddRange(read.Tracks.Select(t => t.Name).Concat(read.Media.Values.Select(m => Path.GetFileNameWithoutExtension(m.FileName))).Where(n => n.Length > 0).Select(n => (n, name)));
    }

    private void Fades(IReadOnlyList<EditTrack> tracks, string name)
    {
        var fades = tracks.SelectMany(t => t.Clips).SelectMany(c => new[] { c.FadeIn, c.FadeOut }).OfType<EditFade>().Where(f => f.Length.Sign > 0).ToList();
        if (fades.Count > 0)
        {
            var shapes = fades.GroupBy(f => f.Shape).OrderByDescending(g => g.Count()).Select(g => $"{Digits.Grouped(g.Count())} {Formats.OpenSession.DocumentWords.Of(Formats.OpenSession.DocumentWords.Shapes, g.Key)}");
            _told.Add(new LearntLine("fades", string.Join(", ", shapes), [name], false));
        }
    }

    private void Tell(string what, int count, string thing, string name)
    {
        if (count > 0)
        {
            _told.Add(new LearntLine(what, $"on {Phrases.Count(count, thing)}", [name], false));
        }
    }

    private void Sound(IStoredFile file, string name)
    {
        using var sound = SoundFile.Open(file, name);
        var facts = sound.Facts;
        Rate(facts.SampleRate, name);
        SoundContainer? container = sound.Header is { } header ? header.IsAiff ? SoundContainer.Aiff : SoundContainer.Wav : sound.Flac is not null ? SoundContainer.Flac : null;
        if (container is not { } form)
        {
            _told.Add(new LearntLine("sound files", "coded with loss; what is sent for working on is not", [name], false));
            return;
        }

        Seen("container", "sound files", Choices.Containers[form].Words, Choices.Containers[form].Id, name);
        if (Choices.Encodings.Any(e => e.Value == facts.Encoding))
        {
            Seen("encoding", "depth of sound files", facts.Encoding.Words(), Choices.Encodings[facts.Encoding].Id, name);
        }

        _told.Add(new LearntLine("channels of sound files", Phrases.Channels(facts.Channels), [name], false));
        _names.Add((Path.GetFileNameWithoutExtension(name), name));
    }

    private void Midi()
    {
        foreach (var (file, smf) in _midi.Where(m => m.Smf.Type == 0))
        {
            _told.Add(new LearntLine("MIDI", "type 0, everything on one track", [file], false));
        }

        var rest = _midi.Where(m => m.Smf.Type != 0).ToList();
        var form = rest.Count == 1 ? MidiForm.OneFile : MidiForm.FilePerPart;
        foreach (var (file, _) in rest)
        {
            Seen("midi/form", "MIDI", Choices.MidiForms[form].Words, Choices.MidiForms[form].Id, file);
        }
    }

    // The longest names of all end at one length where they were cut off.
    private void Names()
    {
        var distinct = _names.DistinctBy(n => n.Name).ToList();
        if (distinct.Count == 0)
        {
            return;
        }

        var longest = distinct.Max(n => Letters(n.Name));
        var at = distinct.Where(n => Letters(n.Name) == longest).ToList();
        if (at.Count >= NamesOfALimit && longest >= SheetTerms.ShortestName)
        {
            foreach (var (_, file) in at)
            {
                Seen("longestName", "names", $"cut off at {longest} characters", longest, file);
            }
        }
        else
        {
            _told.Add(new LearntLine("names", $"up to {longest} characters{(distinct.All(n => n.Name.All(char.IsAscii)) ? ", in ASCII" : string.Empty)}", [.. distinct.Select(n => n.In).Distinct()], false));
        }

        static int Letters(string name) => name.EnumerateRunes().Count();
    }

    private static ClipMediaForm? FormOf(Formats.Sessions.DocumentMedia media) => media.How switch
    {
        "embedded-wave" => ClipMediaForm.InsideWave,
        "embedded-aifc" => ClipMediaForm.InsideAiff,
        "embedded-pcm" => ClipMediaForm.InsideSamples,
        _ => Path.GetExtension(media.LocatorName ?? media.FileName).ToLowerInvariant() switch { ".wav" => ClipMediaForm.BesideWave, ".aif" or ".aiff" or ".aifc" => ClipMediaForm.BesideAiff, _ => null },
    };

    private void Rate(SampleRate rate, string name)
    {
        if (rate.PerSecond.Denominator.IsOne)
        {
            Seen("rate", "rate", $"{Digits.Grouped(rate.HeaderHz)} Hz", rate.HeaderHz, name);
        }
        else
        {
            _told.Add(new LearntLine("rate", rate.ToString(), [name], false));
        }
    }

    private void Seen(string path, string what, string words, JsonNode value, string file) => _seen.Add((path, what, words, value, file));

    private LearntSheet Sheet(string name)
    {
        var json = new JsonObject { ["sheetVersion"] = ReceiverSheet.Version, ["name"] = name };
        var lines = new List<LearntLine>();
        foreach (var field in _seen.GroupBy(s => s.Path))
        {
            var values = field.GroupBy(s => s.Words).ToList();
            var agree = values.Count == 1;
            lines.AddRange(values.Select(v => new LearntLine(field.First().What, v.Key, [.. v.Select(s => s.In).Distinct()], agree)));
            if (agree)
            {
                Put(json, field.Key.Split('/'), field.First().Value);
            }
        }

        // Choices of one format mean nothing to another.
        if (json["clips"] is JsonObject clips && !clips.ContainsKey("file"))
        {
            clips.Remove("options");
        }

        var text = json.ToJsonString(s_indented) + "\n";
        _ = ReceiverSheet.Read(Encoding.UTF8.GetBytes(text), name);
        return new LearntSheet(text, [.. lines, .. _told.GroupBy(t => (t.What, t.Value)).Select(g => g.First() with { In = [.. g.SelectMany(t => t.In).Distinct()] })]);
    }

    private static void Put(JsonObject json, string[] path, JsonNode value)
    {
        foreach (var part in path[..^1])
        {
            json = (JsonObject)(json[part] ??= new JsonObject());
        }

        json[path[^1]] = value.DeepClone();
    }
}
