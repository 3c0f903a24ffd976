using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Arriving;

/// <summary>What files of one side say, and where their sound lies.</summary>
/// <param name="Side">What they say.</param>
/// <param name="Clips">The same with its sound; null where no file says clips or sound.</param>
/// <param name="Findings">What was found on the way.</param>
public sealed record LoadedSide(ArrivalSide Side, LoadedSession? Clips, IReadOnlyList<Finding> Findings)
{
    /// <summary>Reads a document of clips with its media, files of sound from the start, MIDI, or all of them. A record of the session beside a document of clips is not what was brought in.</summary>
    /// <param name="path">A file, or a folder with files.</param>
    /// <param name="scratch">For files that live as long as the work.</param>
    /// <exception cref="BadInputException">Nothing of it can be read, or it holds more than one session.</exception>
    public static LoadedSide Load(string path, string scratch)
    {
        var files = Directory.Exists(path) ? [.. FolderFiles.Of(Path.GetFullPath(path)).Files.Where(f => !SafePath.IsSideFile(Path.GetRelativePath(path, f)))] : new List<string> { path };
        var kinds = files.Where(File.Exists).Select(f => (Path: f, Said: SaidBy(f))).ToList();
        var sessions = kinds.Where(k => k.Said.Format is not null).ToList();
        var documents = sessions.Exists(d => d.Said.Format is IClipFormat) ? sessions.Where(d => d.Said.Format is IClipFormat).ToList() : sessions;
        if (documents.Count > 1)
        {
            throw new BadInputException(ArrivingCodes.Several, Path.GetFileName(path), string.Empty, $"There are {Digits.Grouped(documents.Count)} sessions in it: {Phrases.First([.. documents.Select(d => Path.GetFileName(d.Path))])}.", "Give one at a time.");
        }

        var notes = kinds.Where(k => k.Said.IsMidi).Select(k => k.Path).ToList();
        var music = notes.Count == 0 ? null : Music(notes.Select(n => (Path.GetFileName(n), (Stream)File.OpenRead(n))), scratch);
        var clips = documents.Count == 0 && music is not null && notes.Count == files.Count ? music : SessionLoader.Load(documents.Count == 1 ? documents[0].Path : path, scratch);
        if (documents.Count == 0 && !clips.Session.Tracks.Any(t => t.Kind == TrackKind.Audio))
        {
            // Neither a document of clips nor a sound: whatever else lies beside says no clip.
            return music is not null ? new LoadedSide(new ArrivalSide(null, music.Session, false), null, music.Findings)
                : throw new BadInputException(IntakeCodes.Nothing, path, string.Empty, "There is neither a session, sound nor MIDI in it.", "Give what was exported again.");
        }

        var record = documents.Count == 1 && documents[0].Said.Format is not IClipFormat;
        return new LoadedSide(new ArrivalSide(clips.Session, record ? clips.Session : music?.Session, documents.Count == 1), clips, [.. clips.Findings, .. music?.Findings ?? []]);
    }

    /// <summary>What MIDI files say together.</summary>
    /// <param name="files">Their names and bytes, which are closed.</param>
    /// <param name="scratch">For files that live as long as the work.</param>
    internal static LoadedSession Music(IEnumerable<(string Name, Stream Bytes)> files, string scratch)
    {
        var folder = Directory.CreateDirectory(Path.Combine(scratch, $"{Guid.NewGuid():N}.midi")).FullName;
        foreach (var ((name, bytes), i) in files.Select((f, i) => (f, i)))
        {
            using var copy = File.Create(Path.Combine(folder, $"{i:00000} {name}"));
            using (bytes)
            {
                bytes.CopyTo(copy);
            }
        }

        return SessionLoader.Load(folder, scratch);
    }

    private static (ISessionFormat? Format, bool IsMidi) SaidBy(string path)
    {
        using var stream = File.OpenRead(path);
        var format = ContentSniffer.FormatOf(stream);
        stream.Position = 0;
        return (format, format is null && ContentSniffer.Recognise(stream) == ContentKind.Midi);
    }
}
