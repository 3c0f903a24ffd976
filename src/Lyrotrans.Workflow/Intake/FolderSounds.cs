using System.Security.Cryptography;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Finds linked media among the sound files of a folder and those below it.</summary>
internal static class FolderSounds
{
    private const int MostFiles = 20_000;

    /// <returns>For each medium the file that is beyond doubt, and what is to be said where there is none.</returns>
    public static List<(Media Media, string? Path, Finding? Finding)> Link(Session session, IReadOnlyList<Media> wanted, string folder)
    {
        var options = new EnumerationOptions { RecurseSubdirectories = true, IgnoreInaccessible = true, AttributesToSkip = FileAttributes.ReparsePoint, MaxRecursionDepth = 8 };
        var candidates = Directory.EnumerateFiles(folder, "*", options).Take(MostFiles).Select(p => Candidate(p, folder)).OfType<SoundCandidate>().ToList();
        var links = Relink.Match(wanted, MediaNeeds.Of(session), candidates, new Dictionary<string, string>());
        return [.. wanted.Select(m => (m, links[m.Id].Bound, Doubt(m, links[m.Id])))];
    }

    private static Finding? Doubt(Media media, LinkResult link) => link.Doubtful.Count == 0
        ? null
        : new Finding(IntakeCodes.MediaDoubted, media.FileName, $"{media.FileName} may be {link.Doubtful[0].Name}: {string.Join(", ", link.Doubtful[0].For)}{(link.Doubtful[0].Against.Count > 0 ? $"; but {string.Join(", ", link.Doubtful[0].Against)}" : string.Empty)}.");

    // What is no sound is no candidate; what cannot be read is said where it is brought in by itself.
    private static SoundCandidate? Candidate(string path, string folder)
    {
        var name = Path.GetRelativePath(folder, path).Replace('\\', '/');
        if (SafePath.IsSideFile(name))
        {
            return null;
        }

        try
        {
            using var sound = SoundFile.Open(new DiskFile(path), name);
            var facts = sound.Facts;
            return new SoundCandidate(path, name, null, facts.SampleRate, facts.Channels, facts.Frames, facts.TimeReference, facts.Umid, bytes => StartHash(File.OpenRead(path), bytes));
        }
        catch (Exception problem) when (problem is BadInputException or IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>The hash of a stream's first bytes; null where it has fewer. Closes it.</summary>
    public static string? StartHash(Stream stream, int bytes)
    {
        using (stream)
        {
            var start = new byte[bytes];
            return stream.ReadAtLeast(start, bytes, throwOnEndOfStream: false) == bytes ? Convert.ToHexStringLower(SHA256.HashData(start)) : null;
        }
    }
}
