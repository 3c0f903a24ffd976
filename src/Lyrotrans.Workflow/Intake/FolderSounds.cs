using Lyrotrans.Audio.Native;
using System.Security.Cryptography;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Files;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Containers;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Finds linked media among the sound files of a folder and those below it.</summary>
internal static class FolderSounds
{
    private const int MostFiles = 20_000;

    /// <param name="session">What names the media.</param>
    /// <param name="wanted">Those that have no file yet.</param>
    /// <param name="folder">Where they may lie.</param>
    /// <param name="scratch">Gets sound that is taken out of files with picture.</param>
    /// <returns>For each medium the file that is beyond doubt, and what is to be said of it, or where there is none.</returns>
    public static List<(Media Media, string? Path, IReadOnlyList<Finding> Findings)> Link(Session session, IReadOnlyList<Media> wanted, string folder, string scratch)
    {
        var options = new EnumerationOptions { RecurseSubdirectories = true, IgnoreInaccessible = true, AttributesToSkip = FileAttributes.ReparsePoint, MaxRecursionDepth = 8 };
        var candidates = Directory.EnumerateFiles(folder, "*", options).Take(MostFiles).Where(PlainFiles.Is).SelectMany(p => Candidates(p, folder)).ToList();
        var links = Relink.Match(wanted, MediaNeeds.Of(session), [.. candidates.Select(c => c.Candidate)], new Dictionary<string, string>());
        var taken = new Dictionary<string, (string Path, IReadOnlyList<Finding> Findings)>();
        return [.. wanted.Select(m => Found(m, links[m.Id]))];

        (Media, string?, IReadOnlyList<Finding>) Found(Media medium, LinkResult link)
        {
            if (candidates.Find(c => c.Candidate.Id == link.Bound) is not { TakeOut: { } takeOut } candidate)
            {
                return (medium, link.Bound, Doubt(medium, link) is { } doubt ? [doubt] : []);
            }

            if (!taken.TryGetValue(candidate.Candidate.Id, out var sound))
            {
                var path = Path.Combine(scratch, $"{Guid.NewGuid():N}.wav");
                taken[candidate.Candidate.Id] = sound = (path, takeOut(path));
            }

            return (medium, sound.Path, sound.Findings);
        }
    }

    private static Finding? Doubt(Media media, LinkResult link) => link.Doubtful.Count == 0
        ? null
        : new Finding(IntakeCodes.MediaDoubted, media.FileName, $"{media.FileName} may be {link.Doubtful[0].Name}: {string.Join(", ", link.Doubtful[0].For)}{(link.Doubtful[0].Against.Count > 0 ? $"; but {string.Join(", ", link.Doubtful[0].Against)}" : string.Empty)}.");

    // What is no sound is no candidate; what cannot be read is said where it is brought in by itself.
    private static IEnumerable<FolderSound> Candidates(string path, string folder)
    {
        var name = Path.GetRelativePath(folder, path).Replace('\\', '/');
        if (SafePath.IsSideFile(name))
        {
            return [];
        }

        try
        {
            return ContainerFile.MayBe(KindOf(path)) ? [.. Inside(path, name)] : [Of(path, name)];
        }
        catch (Exception problem) when (problem is BadInputException or IOException or UnauthorizedAccessException)
        {
            return [];
        }
    }

    private static ContentKind KindOf(string path)
    {
        using var stream = File.OpenRead(path);
        return ContentSniffer.Recognise(stream);
    }

    private static FolderSound Of(string path, string name)
    {
        using var sound = SoundFile.Open(new DiskFile(path), name);
        return new FolderSound(Candidate(path, name, sound.Facts, bytes => StartHash(File.OpenRead(path), bytes)), null);
    }

    private static IEnumerable<FolderSound> Inside(string path, string name)
    {
        using var container = ContainerFile.Open(new DiskFile(path), name);
        return [.. container.Facts.Sounds.Select((sound, i) => new FolderSound(
            Candidate($"{path}\n{i}", name, container.FactsOf(sound), _ => null),
            target =>
            {
                using var again = ContainerFile.Open(new DiskFile(path), name);
                return again.Write(sound, target, CancellationToken.None);
            }))];
    }

    private static SoundCandidate Candidate(string id, string name, SoundFileFacts facts, Func<int, string?> start) =>
        new(id, name, null, facts.SampleRate, facts.Channels, facts.Frames, facts.TimeReference, facts.Umid, start);

    /// <summary>The hash of a stream's first bytes; null where it has fewer. Closes it.</summary>
    public static string? StartHash(Stream stream, int bytes)
    {
        using (stream)
        {
            var start = new byte[bytes];
            return stream.ReadAtLeast(start, bytes, throwOnEndOfStream: false) == bytes ? Convert.ToHexStringLower(SHA256.HashData(start)) : null;
        }
    }

    /// <summary>A sound that media may be.</summary>
    /// <param name="Candidate">What is known of it; its id is its path, or more where it lies inside a file.</param>
    /// <param name="TakeOut">Writes it where it lies inside a file, and says what was met; null where it is a file.</param>
    private sealed record FolderSound(SoundCandidate Candidate, Func<string, IReadOnlyList<Finding>>? TakeOut);
}
