using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Files;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Containers;
using Lyrotrans.Workflow.Incoming;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Workflow.Intake;

/// <summary>
/// Takes files that arrived into a room's store: unpacks archives, recognises each file, takes out what lies inside it, and measures its sound. Work that was
/// killed is done again from its beginning: what had been taken is found by its hash, and an archive stays where it is.
/// </summary>
/// <param name="media">The room's.</param>
/// <param name="incoming">A local folder for what is unpacked, best on the disk of the store.</param>
/// <param name="hashed">Told the hash of a file before it is taken, to be kept.</param>
/// <param name="pulse">Told how far it is.</param>
/// <param name="room">Asked for room before bytes are written that did not arrive as they are: for what, and how many; fewer than 0 are given
/// back when they are in the store. Says why they do not fit, in words. None is room for everything.</param>
public sealed class IntakeWork(IMediaStore media, string incoming, Func<ArrivedFile, string, Task> hashed, WorkPulse pulse, Func<string, long, Task<string?>>? room = null)
{
    private const double ReadingTakes = 0.5;

    private readonly List<IncomingPackage> _packages = [];

    /// <summary>The packages of this program among what was taken.</summary>
    public IReadOnlyList<IncomingPackage> Packages => _packages;

    private readonly Func<string, long, Task<string?>> _room = room ?? ((_, _) => Task.FromResult<string?>(null));

    /// <summary>The items of all files, in the order of their names; their sound is not measured yet. A file that cannot be read is an item with its error; the others come in.</summary>
    public async Task<IReadOnlyList<IntakeItem>> TakeAsync(IReadOnlyList<ArrivedFile> files)
    {
        var items = new List<IntakeItem>();
        var ordered = files.OrderBy(f => f.Name, StringComparer.OrdinalIgnoreCase).ToList();
        See(ordered.DistinctBy(f => f.Name).ToDictionary(f => f.Name, Bytes));

        // Reading is what takes long: several at once.
        var read = 0;
        var hashes = AtOnce.Select(
            ordered,
            f =>
            {
                var hash = File.Exists(f.Path) && !IsZip(f.Path) && (IsRecord(f.Name) || LeftOut(f.Path, f.Name) is null) ? FileHash.OfAsync(f.Path, pulse.Stop).GetAwaiter().GetResult() : null;
                pulse.Report(new WorkProgress(ReadingTakes * Interlocked.Increment(ref read) / ordered.Count, $"read {f.Name}"));
                return hash;
            },
            pulse.Stop);
        for (var i = 0; i < ordered.Count; i++)
        {
            pulse.Stop.ThrowIfCancellationRequested();
            pulse.Report(new WorkProgress(ReadingTakes, $"taking {ordered[i].Name}"));
            items.AddRange(await TakeAsync(ordered[i], hashes[i]));
        }

        return AtOnce.Select(items, Possible, pulse.Stop);
    }

    /// <summary>Items as they are when their sound was measured, which may find damage; what was measured before is not measured again.</summary>
    public IReadOnlyList<IntakeItem> Measured(IReadOnlyList<IntakeItem> items) =>
        Examiner.Measured(items, media, p => pulse.Report(p with { Fraction = ReadingTakes + ((1 - ReadingTakes) * p.Fraction) }), pulse.Stop);

    /// <summary>An item that makes no session that can be kept, alone already, is a bad one: the others of its batch come in.</summary>
    private IntakeItem Possible(IntakeItem item)
    {
        if (item.Error is not null)
        {
            return item;
        }

        try
        {
            var session = SessionJoin.Join(new IntakeState { Items = [item] }, sha256 => media.FileOf(sha256).Open()).Session;
            using var kept = new MemoryStream(SessionDocumentWriter.Write(session));
            SessionDocumentReader.Read(kept, item.Name);
            return item;
        }
        catch (BadInputException problem)
        {
            return item with { Error = problem.Finding };
        }
        catch (Exception problem) when (problem is ArithmeticException or ArgumentException)
        {
            return item with { Error = new Finding(IntakeCodes.Impossible, string.Empty, $"{item.Name}: It says a place or a number that no session can have. The file is damaged; ask for it again.") };
        }
    }

    /// <summary>What was brought in, in words for a revision.</summary>
    /// <param name="items">What was.</param>
    /// <param name="packages">The packages among them.</param>
    public static string Words(IReadOnlyList<IntakeItem> items, IReadOnlyList<IncomingPackage>? packages = null)
    {
        if (packages is [var package] && items.All(i => i.Name.StartsWith(package.Folder, StringComparison.Ordinal)))
        {
            return $"brought in the package of {package.Session}: {Phrases.Count(items.Count, "file")}";
        }

        var taken = items.Where(i => !i.IsLeftOut).ToList();
        var bad = taken.Count(i => i.Error is not null);
        var words = taken.Count == 1 ? $"brought in {taken[0].Name}" : $"brought in {Phrases.Count(taken.Count, "file")}";
        return string.Join(", ", new[] { words, bad == 0 ? string.Empty : $"{bad} could not be read", taken.Count == items.Count ? string.Empty : $"{Digits.Grouped(items.Count - taken.Count)} left out" }.Where(w => w.Length > 0));
    }

    private async Task<IReadOnlyList<IntakeItem>> TakeAsync(ArrivedFile file, string? hash)
    {
        if (!File.Exists(file.Path))
        {
            // Taken before the process was killed.
            return file.Sha256 is { } taken && media.Has(taken) ? await WithInnerAsync(taken, file.Name) : [];
        }

        if (IsZip(file.Path))
        {
            return await UnpackAsync(file);
        }

        if (!IsRecord(file.Name) && LeftOut(file.Path, file.Name) is { } useless)
        {
            return [useless];
        }

        var sha256 = hash ?? await FileHash.OfAsync(file.Path, pulse.Stop);
        await hashed(file, sha256);
        await media.TakeAsync(file.Path, sha256, pulse.Stop);
        return await WithInnerAsync(sha256, file.Name);
    }

    private async Task<IReadOnlyList<IntakeItem>> UnpackAsync(ArrivedFile archive)
    {
        var folder = Path.Combine(incoming, $"{Guid.NewGuid():N}.unpacked");
        Directory.CreateDirectory(folder);
        try
        {
            var bytes = SafeUnzip.BytesOf(archive.Path, archive.Name);
            if (await _room(archive.Name, bytes) is { } full)
            {
                return [Bad(archive.Name, new FileInfo(archive.Path).Length, ContentKind.Zip, new Finding(ArchiveCodes.NoRoom, string.Empty, full))];
            }

            var files = SafeUnzip.Unpack(archive.Path, archive.Name, folder, bytes, pulse.Stop);
            var items = new List<IntakeItem>();
            See(files.Where(f => f.Problem is null).DistinctBy(f => f.Name).ToDictionary(f => f.Name, f => (Func<Stream?>)(() => File.OpenRead(f.Path))));
            foreach (var (inner, file, problem) in files)
            {
                pulse.Report(new WorkProgress(ReadingTakes * items.Count / files.Count, $"reading {inner}"));
                pulse.Stop.ThrowIfCancellationRequested();
                items.AddRange(problem is null ? !IsRecord(inner) && LeftOut(file, inner) is { } useless ? [useless] : await WithInnerAsync(await media.TakeAsync(file, pulse.Stop), inner) : [Bad(inner, 0, ContentKind.Unknown, problem)]);
            }

            await _room(archive.Name, -bytes);
            return items;
        }
        catch (BadInputException problem)
        {
            // A refused archive is one bad item; the rest of the batch goes on.
            return [Bad(archive.Name, new FileInfo(archive.Path).Length, ContentKind.Zip, problem.Finding)];
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private void See(Dictionary<string, Func<Stream?>> files) => _packages.AddRange(PackageSight.Of(files.Keys, name => files[name]()));

    // One that was taken before the process was killed lies in the store.
    private Func<Stream?> Bytes(ArrivedFile file) => () => File.Exists(file.Path) ? File.OpenRead(file.Path) : file.Sha256 is { } taken && media.Has(taken) ? media.FileOf(taken).Open() : null;

    private bool IsRecord(string name) => _packages.Exists(p => p.IsRecord(name));

    /// <summary>A file that is of no use here, which is not taken into the store; null where it may be.</summary>
    private static IntakeItem? LeftOut(string path, string name)
    {
        var file = new DiskFile(path);
        return Examiner.IsOfNoUse(file, name) ? Examiner.Examine(file, name, string.Empty) : null;
    }

    /// <summary>A file with picture or a container and, where it holds sound, that as files of their own.</summary>
    private async Task<IReadOnlyList<IntakeItem>> WithSoundAsync(IntakeItem item)
    {
        var (container, described) = ContainerItems.Open(item, media.FileOf(item.Sha256));
        using (container)
        {
            if (container is null || container.Facts.Streams.Count == 0)
            {
                return [described];
            }

            if (await _room(item.Name, container.Bytes) is { } full)
            {
                return [described with { Error = new Finding(IntakeCodes.MediaNoRoom, string.Empty, full) }];
            }

            var items = new List<IntakeItem> { described };
            foreach (var sound in container.Facts.Sounds)
            {
                pulse.Report(new WorkProgress(0, $"taking the sound out of {item.Name}"));
                var path = Path.Combine(media.Scratch, Guid.NewGuid().ToString("N"));
                try
                {
                    var findings = container.Write(sound, path, pulse.Stop);
                    var taken = await media.TakeAsync(path, pulse.Stop);
                    items.Add(ContainerItems.Taken(Examiner.Examine(media.FileOf(taken), ContainerItems.NameOf(container, sound), taken), container, findings));
                }
                catch (BadInputException problem)
                {
                    items[0] = ContainerItems.Without(items[0], problem.Finding);
                }
                finally
                {
                    File.Delete(path);
                }
            }

            await _room(item.Name, -container.Bytes);
            return items;
        }
    }

    private static IntakeItem Bad(string name, long bytes, ContentKind kind, Finding problem) =>
        new() { Id = Guid.NewGuid().ToString("N"), Name = name, Sha256 = string.Empty, Bytes = bytes, Kind = kind, Error = problem };

    private static bool IsZip(string path)
    {
        using var stream = File.OpenRead(path);
        return ContentSniffer.Recognise(stream) == ContentKind.Zip;
    }

    /// <summary>A file and, where it holds media, those as files of their own.</summary>
    private async Task<IReadOnlyList<IntakeItem>> WithInnerAsync(string sha256, string name)
    {
        if (IsRecord(name))
        {
            return [new IntakeItem { Id = IntakeItem.IdOf(sha256, name), Name = name, Sha256 = sha256, Bytes = media.FileOf(sha256).Length, Kind = ContentKind.Record, Brings = ["what the package says of itself"] }];
        }

        var item = Examiner.Examine(media.FileOf(sha256), name, sha256);
        if (item.Error is null && ContainerFile.MayBe(item.Kind))
        {
            return await WithSoundAsync(item);
        }

        if (!item.IsDocument || SessionFormats.Get(item.Format!).IsWhole)
        {
            return [item];
        }

        var items = new List<IntakeItem> { item };
        try
        {
            using var embedded = EmbeddedMedia.Open(media.FileOf(sha256), name);
            if (embedded.Bytes > 0 && await _room(name, embedded.Bytes) is { } full)
            {
                return [item with { Error = new Finding(IntakeCodes.MediaNoRoom, string.Empty, full) }];
            }

            foreach (var (_, names, path) in embedded.Extract(media.Scratch, pulse.Stop))
            {
                var taken = await media.TakeAsync(path, pulse.Stop);
                items.AddRange(names.Select(inner => Examiner.Examine(media.FileOf(taken), inner, taken)));
            }

            await _room(name, -embedded.Bytes);
            return items;
        }
        catch (BadInputException problem)
        {
            return [item with { Error = problem.Finding }];
        }
    }
}
