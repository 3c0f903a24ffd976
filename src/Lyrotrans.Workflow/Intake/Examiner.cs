using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Recognises a file by its content and says what it brings. A file that cannot be read becomes an item with its error.</summary>
public static class Examiner
{
    // What is called so should be so: else it is an error, and nothing to be left out.
    private static readonly string[] s_known = [".wav", ".aif", ".aiff", ".flac", ".ogg", ".mp3", ".mid", ".midi", ".zip", ".mov", ".mp4", ".mxf", .. SessionFormats.OfClips.Select(f => f.Extension)];

    /// <summary>Whether a file is of no use here, and is not called like one that would be.</summary>
    /// <param name="file">Where it lies.</param>
    /// <param name="name">As it was called.</param>
    public static bool IsOfNoUse(IStoredFile file, string name)
    {
        using var stream = file.Open();
        return !s_known.Contains(Path.GetExtension(name).ToLowerInvariant()) && ContentSniffer.Recognise(stream) is (ContentKind.Unknown or ContentKind.Empty);
    }

    /// <param name="file">Where it lies.</param>
    /// <param name="name">As it was called, for people.</param>
    /// <param name="sha256">Of its bytes.</param>
    public static IntakeItem Examine(IStoredFile file, string name, string sha256)
    {
        var item = new IntakeItem { Id = IntakeItem.IdOf(sha256, name), Name = name, Sha256 = sha256, Bytes = file.Length };
        try
        {
            using var stream = file.Open();
            var kind = ContentSniffer.Recognise(stream);
            var format = kind == ContentKind.Session ? ContentSniffer.FormatOf(stream) : null;
            item = item with { Kind = kind, Format = format?.Id };
            return kind switch
            {
                ContentKind.Wave or ContentKind.Aiff or ContentKind.Flac or ContentKind.Ogg or ContentKind.Mp3 => Sound(item, file),
                ContentKind.Midi => Midi(item, SmfReader.Read(stream, name)),
                ContentKind.Session => Document(item, format!.Open(stream, name).ReadSession()),
                ContentKind.MarkerList => item with { Brings = [Phrases.Count(MarkerListReader.Read(stream, name).Count, "marker")] },
                ContentKind.Picture => item with { Brings = ["a reference picture"] },
                ContentKind.Empty when IsOfNoUse(file, name) => item with { Kind = ContentKind.Unknown, Error = Unknown(name) },
                ContentKind.Empty => item with { Error = SoundFile.Empty(name).Finding },
                ContentKind.Container => item with { Placement = new(PlacementRule.SessionStart) },
                ContentKind.Zip => item with { Error = Refused(ArchiveCodes.Nested, name, "An archive inside an archive is not opened.", "Unpack it and bring in its files.") },
                _ => item with { Error = Unknown(name) },
            };
        }
        catch (BadInputException problem)
        {
            return item with { Error = problem.Finding };
        }
        catch (EndOfStreamException)
        {
            return item with { Error = Refused(FileCodes.CutShort, name, "The file ends too early.", "It was cut short; ask for it again.") };
        }
    }

    /// <summary>Items whose sound has been measured, several at once. One that cannot be read to its end becomes an item with its error.</summary>
    public static IReadOnlyList<IntakeItem> Measured(IReadOnlyList<IntakeItem> items, IMediaStore store, Action<WorkProgress> report, CancellationToken stop)
    {
        var done = 0;
        return AtOnce.Select(
            items,
            item =>
            {
                var measured = item.IsSound && item.Sound!.Frames > 0 ? Measured(item, store, stop) : item;
                report(new WorkProgress((double)Interlocked.Increment(ref done) / items.Count, $"measured {item.Name}"));
                return measured;
            },
            stop);
    }

    private static IntakeItem Measured(IntakeItem item, IMediaStore store, CancellationToken stop)
    {
        try
        {
            var damage = SoundMeasures.Ensure(store, item.Sha256, item.Name, stop);
            return item with { Findings = [.. item.Findings, .. damage.Except(item.Findings)], SampleSum = SoundMeasures.SumOf(store, item.Sha256) };
        }
        catch (BadInputException problem)
        {
            return item with { Error = problem.Finding };
        }
    }

    /// <summary>What can be brought in, in words.</summary>
    public static IReadOnlyList<string> Takes => ["Sound (WAVE, RF64, AIFF, FLAC, or inside MXF, MOV or MP4)", "MIDI", .. SessionFormats.OfClips.Select(f => f.Id), "an open session document", "a marker list (CSV)", "a zip of these"];

    private static Finding Refused(FindingCode code, string name, string problem, string remedy) => new BadInputException(code, name, string.Empty, problem, remedy).Finding;

    private static Finding Unknown(string name)
    {
        var claims = Path.GetExtension(name).ToLowerInvariant();
        return s_known.Contains(claims)
            ? Refused(FileCodes.WrongName, name, $"Its name ends in {claims}, and its content is not that.", "Export it again, or ask what it is.")
            : Refused(FileCodes.UnknownContent, name, "This is no file that can be brought in.", $"{Phrases.List(Takes, "or")} can.");
    }

    // Longer ones are no tempo and no key.
    private const int MostTag = 16;

    private static IntakeItem Sound(IntakeItem item, IStoredFile file)
    {
        using var sound = SoundFile.Open(file, item.Name);
        var facts = sound.Facts;
        FindingList findings = [.. facts.Findings];
        if (facts.Frames == 0)
        {
            findings.Add(IntakeCodes.NoSound, string.Empty, "It holds no sound: 0 samples.");
        }

        return item with
        {
            Sound = facts,
            Findings = [.. findings],
            Brings =
            [
                facts.Container == "WAVE" ? facts.Encoding.Words() : $"{facts.Container} {facts.Encoding.Words()}",
                $"{Digits.Grouped(facts.SampleRate.HeaderHz)} Hz",
                facts.Channels > 2 && facts.ChannelNames is { } names ? $"{Phrases.Channels(facts.Channels)} ({string.Join(", ", names.Select((n, i) => n.Length > 0 ? n : $"{i + 1}"))})" : Phrases.Channels(facts.Channels),
                $"{Digits.Grouped(facts.Frames)} samples",
                .. sound.Tags.Tempo is { Length: > 0 and < MostTag } tempo ? [$"says tempo {tempo}"] : Array.Empty<string>(),
                .. sound.Tags.Key is { Length: > 0 and < MostTag } key ? [$"says key {key}"] : Array.Empty<string>(),
            ],
        };
    }

    private static IntakeItem Midi(IntakeItem item, SmfFile file)
    {
        var contents = SmfContents.Of(file);
        FindingList findings = [.. contents.Findings];
        if (contents.Tracks.All(t => t.Notes.Count == 0))
        {
            findings.Add(IntakeCodes.NoNotes, string.Empty, "It has no notes; it brings tempo, meters and markers only.");
        }

        return item with
        {
            Findings = [.. findings],
            Placement = new(PlacementRule.SessionStart),
            Brings =
            [
                $"type {file.Type}, {(file.TicksPerQuarter > 0 ? $"{file.TicksPerQuarter} ticks a quarter" : $"{file.FramesPerSecond} frames, {file.TicksPerFrame} ticks a frame")}",
                Phrases.Count(contents.Tracks.Count(t => t.Notes.Count > 0), "note track"),
                Phrases.Count(contents.Tracks.Sum(t => t.Notes.Count), "note"),
                Phrases.Count(contents.Tempos.Count, "tempo"),
                Phrases.Count(contents.Meters.Count, "meter"),
                Phrases.Count(contents.Markers.Count + contents.Cues.Count, "marker"),
            ],
        };
    }

    private static IntakeItem Document(IntakeItem item, ReadSession read)
    {
        var session = read.Session;
        var embedded = read.Media.Values.Count(m => m.IsEmbedded);
        var notes = session.Tracks.Sum(t => t.Parts.Sum(p => p.Notes.Count));
        string?[] brings =
        [
            Phrases.Count(session.Tracks.Count, "track"),
            Phrases.Count(session.Tracks.Sum(t => t.Lanes.Sum(l => l.Clips.Count)), "clip"),
            notes > 0 ? Phrases.Count(notes, "note") : null,
            MusicMap.Of(session).IsDefault ? null : Phrases.Count(session.Tempo.Points.Count, "tempo"),
            Phrases.Count(session.Markers.Count, "marker"),
            $"{Phrases.Count(session.Media.Count, "media file")}{(embedded > 0 ? $", {Digits.Grouped(embedded)} inside it" : string.Empty)}",
        ];
        return item with { Placement = new(PlacementRule.SessionStart), Findings = read.Findings, Brings = [.. brings.OfType<string>()] };
    }
}
