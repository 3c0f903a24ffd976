using System.Security.Cryptography;
using Lyrotrans.Audio.Native;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Workflow.Containers;
using Lyrotrans.Workflow.Pictures;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Reads a session without a database: a document that says it, with its media, or a folder of sound and MIDI.</summary>
public static class SessionLoader
{
    /// <param name="path">A document or a folder.</param>
    /// <param name="scratch">For files that live as long as the work.</param>
    /// <exception cref="BadInputException">It is neither, or cannot be read.</exception>
    public static LoadedSession Load(string path, string scratch)
    {
        if (Directory.Exists(path))
        {
            return LoadFolder(path, scratch);
        }

        if (!File.Exists(path))
        {
            throw new BadInputException(FileCodes.Missing, path, string.Empty, "There is no such file or folder.", "Check the path.");
        }

        using var stream = File.OpenRead(path);
        if (ContentSniffer.FormatOf(stream) is not { } format)
        {
            throw new BadInputException(FileCodes.UnknownContent, path, 0, $"This is no open session document, and no {SessionFormats.Words("or")} file.", "Give one of these, or a folder of time-stamped files.");
        }

        var document = format.Open(stream, format.IsWhole ? path : Path.GetFileName(path));
        return document.NamesPaths ? LoadNamed(document.ReadSession().Session, path, scratch) : LoadFound(document.ReadSession(), path, scratch);
    }

    private static LoadedSession LoadNamed(Session session, string path, string scratch)
    {
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        var media = new FolderMedia(folder, scratch, TakenOut(session, folder, scratch));
        var needed = NeededMedia.Of(session);
        var found = session with
        {
            Media = session.Media.Select(m => m with { Place = media.FileOf(m) is not null ? MediaPlace.Beside : m.Place == MediaPlace.Unsent && !needed.Contains(m.Id) ? MediaPlace.Unsent : MediaPlace.Missing }).ToValueArray(),
        };
        var (picture, problems) = Picture(found, media);
        return new LoadedSession(found with { Picture = picture }, media, [.. Missing(found), .. problems]);
    }

    // The document of a package names what lies inside its files of clips; one that cannot be read holds nothing.
    private static Dictionary<string, string> TakenOut(Session session, string folder, string scratch)
    {
        var taken = new Dictionary<string, string>();
        foreach (var holder in session.Media.Where(m => m.Place == MediaPlace.Embedded).Select(m => MediaNames.HolderOf(m.FileName)).OfType<string>().Distinct().Where(SafePath.IsSafe))
        {
            var path = Path.Combine(folder, holder);
            if (!File.Exists(path))
            {
                continue;
            }

            Directory.CreateDirectory(scratch);
            try
            {
                using var embedded = EmbeddedMedia.Open(new DiskFile(path), holder);
                foreach (var (_, names, file) in embedded.Extract(scratch, CancellationToken.None))
                {
                    names.ToList().ForEach(n => taken[n] = file);
                }
            }
            catch (BadInputException)
            {
            }
        }

        return taken;
    }

    // The file of the picture is known by its bytes where it lies beside; without it only its name is.
    private static (PictureReference? Picture, IReadOnlyList<Finding> Problems) Picture(Session session, FolderMedia media)
    {
        var named = session.Picture is { } said ? said with { Sha256 = null } : null;
        if (named is null || StoredPicture.Find(named, media) is not { } file)
        {
            return (named, []);
        }

        try
        {
            using var stored = StoredPicture.Open(file, named.FileName);
            using var stream = file.Open();
            return (stored.Source.Described(named) with { Sha256 = Convert.ToHexStringLower(SHA256.HashData(stream)), Bytes = stream.Length }, []);
        }
        catch (BadInputException problem)
        {
            return (named, [problem.Finding]);
        }
    }

    // Media inside the file is taken out; linked media is looked for in its folder and those below.
    private static LoadedSession LoadFound(ReadSession read, string path, string scratch)
    {
        var (session, findings) = (read.Session, read.Findings);
        Directory.CreateDirectory(scratch);
        using var embedded = EmbeddedMedia.Open(new DiskFile(path), Path.GetFileName(path));
        var paths = embedded.Extract(scratch, CancellationToken.None).ToDictionary(m => m.Media.Id, m => m.Path);
        var wanted = session.Media.Where(m => !paths.ContainsKey(m.Id)).ToList();
        var links = wanted.Count == 0 ? [] : FolderSounds.Link(session, wanted, Path.GetDirectoryName(Path.GetFullPath(path))!, scratch);
        foreach (var (media, file) in links.Where(l => l.Path is not null).Select(l => (l.Media, l.Path!)))
        {
            paths[media.Id] = file;
        }

        var files = new MappedMedia(paths, scratch);
        var rates = new List<SoundRate>();
        var found = session with { Media = session.Media.Select(m => files.FileOf(m) is { } file ? Measured(m, file, rates) : m).ToValueArray() };
        found = read.KnowsChannels ? found : EditImport.Widened(found);
        return new LoadedSession(found, files, [.. findings, .. RateDoubts(new RateFinder(rates, found).Doubts()), .. links.SelectMany(l => l.Findings), .. Missing(found)]);
    }

    // The file itself knows better than what was said of it.
    private static Media Measured(Media media, IStoredFile file, List<SoundRate> rates)
    {
        using var sound = SoundFile.Open(file, media.FileName);
        rates.Add(new SoundRate(media.Id, media.FileName, sound.Facts.SampleRate, sound.Facts.Frames, sound.Facts.RateWords, media.Id, media));
        return media with
        {
            Place = MediaPlace.Beside,
            Rate = sound.Facts.SampleRate,
            Channels = sound.Facts.Channels,
            Length = sound.Facts.Frames,
            Encoding = sound.Facts.Encoding,
            TimeReference = sound.Facts.TimeReference ?? media.TimeReference,
        };
    }

    private static LoadedSession LoadFolder(string folder, string scratch)
    {
        var document = Directory.EnumerateFiles(folder, $"*{OpenSessionFormat.FileExtension}").Where(PlainFiles.Is).Order(StringComparer.Ordinal).FirstOrDefault();
        if (document is not null)
        {
            return Load(document, scratch);
        }

        var items = new List<IntakeItem>();
        var paths = new Dictionary<string, string>();
        IntakeItem Examined(string file, string name)
        {
            using var stream = File.OpenRead(file);
            var sha256 = Convert.ToHexStringLower(SHA256.HashData(stream));
            paths[sha256] = file;
            return Examiner.Examine(new DiskFile(file), name, sha256);
        }

        var (files, links) = FolderFiles.Of(Path.GetFullPath(folder));
        foreach (var file in files)
        {
            var name = Path.GetRelativePath(Path.GetFullPath(folder), file).Replace('\\', '/');
            if (!SafePath.IsSideFile(name))
            {
                var item = Examined(file, name);
                items.AddRange(item.Error is null && ContainerFile.MayBe(item.Kind) ? TakenOut(item, file, scratch, Examined) : [item]);
            }
        }

        if (!items.Any(i => i.Error is null))
        {
            throw new BadInputException(IntakeCodes.Nothing, folder, string.Empty, "There is nothing in it that can be read.", "Give a folder with sound or MIDI files.");
        }

        var state = new IntakeState { SessionName = Path.GetFileName(Path.TrimEndingDirectorySeparator(Path.GetFullPath(folder))), Items = items };
        var joined = SessionJoin.Join(state, sha256 => File.OpenRead(paths[sha256]));
        var errors = items.Where(i => i.Error is not null && !i.IsLeftOut).Select(i => i.Error!);
        var leftOut = items.Count(i => i.IsLeftOut);
        errors = leftOut == 0 ? errors : errors.Append(new Finding(IntakeCodes.LeftOut, string.Empty, $"{Phrases.Count(leftOut, "file")} of no use here {(leftOut == 1 ? "was" : "were")} left out."));
        errors = links.Count == 0 ? errors : errors.Append(new Finding(IntakeCodes.Links, string.Empty, $"{Phrases.Count(links.Count, "link")} in the folder {(links.Count == 1 ? "was" : "were")} not followed: bring in what {(links.Count == 1 ? "it points" : "they point")} to."));
        return new LoadedSession(joined.Session, new HashedMedia(paths, scratch), [.. joined.Findings, .. RateDoubts(joined.RateDoubts), .. errors]);
    }

    // A file with picture, and its sound as files of their own that live as long as the work.
    private static List<IntakeItem> TakenOut(IntakeItem item, string path, string scratch, Func<string, string, IntakeItem> examined)
    {
        var (container, described) = ContainerItems.Open(item, new DiskFile(path));
        using (container)
        {
            var items = new List<IntakeItem> { described };
            foreach (var sound in container?.Facts.Sounds ?? [])
            {
                Directory.CreateDirectory(scratch);
                var target = Path.Combine(scratch, $"{Guid.NewGuid():N}.wav");
                try
                {
                    var findings = container!.Write(sound, target, CancellationToken.None);
                    items.Add(ContainerItems.Taken(examined(target, ContainerItems.NameOf(container, sound)), container, findings));
                }
                catch (BadInputException problem)
                {
                    items[0] = ContainerItems.Without(items[0], problem.Finding);
                }
            }

            return items;
        }
    }

    private static IEnumerable<Finding> RateDoubts(IReadOnlyList<RateDoubt> doubts) =>
        doubts.Select(d => new Finding(IntakeCodes.RateDoubted, d.Sound.Name, $"{d.Sound.Name} may be {RateFinder.Words(d.Likely)}, not {RateFinder.Words(d.Sound.Header)} as its header says: {string.Join("; ", d.Reasons)}."));

    private static List<Finding> Missing(Session session) =>
        session.Media.Where(m => m.Place == MediaPlace.Missing).Select(m => new Finding(IntakeCodes.MediaMissing, m.FileName, $"{m.FileName} is missing; its clips are silent.")).ToList();
}
