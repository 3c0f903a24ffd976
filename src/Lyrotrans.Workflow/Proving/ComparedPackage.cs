using System.Collections.Concurrent;
using Lyrotrans.Core.Storing;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Proving;

/// <summary>A package that is made again and goes nowhere: each of its bytes is compared with those of the package that was found, and so are the records of its zip.</summary>
/// <param name="zip">The found package.</param>
/// <param name="open">Opens a file in it, from any thread; null where there is none.</param>
/// <param name="computed">Which bytes of a file another machine may have made otherwise; null for none.</param>
internal sealed class ComparedPackage(IStoredFile zip, Func<string, Stream?> open, Func<string, (long From, long To)?> computed) : IPackageOutput
{
    private readonly List<(ComparedEntry Entry, bool SizeKnown)> _entries = [];
    private readonly ConcurrentDictionary<string, ComparedEntry> _byPath = new();

    /// <summary>In the order in which they lie in a package.</summary>
    public IEnumerable<ComparedEntry> Entries => _entries.Select(e => e.Entry);

    /// <summary>The file of a path.</summary>
    public ComparedEntry this[string path] => _byPath[path];

    public PackageEntry Reserve(string path, long bytes) => Add(path, sizeKnown: true);

    public PackageEntry Append(string path) => Add(path, sizeKnown: false);

    public void Finish()
    {
    }

    /// <summary>Where the zip's own records first differ from those that are written around such files; null where nowhere. Worth asking where no file differs that may not.</summary>
    /// <param name="stamp">The date of every entry.</param>
    public long? RecordsDifferAt(DateTimeOffset stamp)
    {
        using var stream = zip.Open();
        var layout = new ZipLayout(_entries.Select(e => (e.Entry.Path, e.Entry.Bytes, e.Entry.Differs ? e.Entry.FoundCrc32 : e.Entry.Crc32, e.SizeKnown)), stamp);
        return layout.Records.Select(r => DiffersAt(stream, r.Offset, layout.HeadOf(r))).FirstOrDefault(d => d is not null)
            ?? DiffersAt(stream, layout.TailOffset, layout.Tail) ?? (stream.Length > layout.Length ? layout.Length : null);
    }

    private static long? DiffersAt(Stream stream, long offset, byte[] meant)
    {
        stream.Position = Math.Min(offset, stream.Length);
        var read = new byte[meant.Length];
        var count = stream.ReadAtLeast(read, read.Length, throwOnEndOfStream: false);
        var same = meant.AsSpan().CommonPrefixLength(read.AsSpan(0, count));
        return same < meant.Length ? offset + same : null;
    }

    private ComparedEntry Add(string path, bool sizeKnown)
    {
        var entry = new ComparedEntry(path, () => open(path), computed(path) ?? default);
        _entries.Add((entry, sizeKnown));
        return _byPath[path] = entry;
    }
}
