using System.Globalization;
using System.Security.Cryptography;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>
/// Reads a package back and compares it with what was meant: every file against its hash, every clip, fade, gain, tempo,
/// marker and note against the session, and every print against the session's own render, by subtraction.
/// </summary>
public sealed class PackageProof
{
    private readonly DeliveryPlan _meant;
    private readonly IMediaFiles _files;
    private readonly PackageReader _package;
    private readonly string _zip;
    private readonly string _name;
    private readonly Action<WorkProgress> _report;
    private readonly CancellationToken _stop;
    private readonly List<ProofRow> _rows = [];
    private readonly List<ClipDot> _dots = [];
    private readonly List<SoundResidual> _residuals = [];

    private PackageProof(
        PackageReader package, string zip, string name, DeliveryPlan meant, IMediaFiles files, Action<WorkProgress> report, CancellationToken stop)
    {
        _package = package;
        _zip = zip;
        _name = name;
        _meant = meant;
        _files = files;
        _report = report;
        _stop = stop;
    }

    /// <param name="zip">The package on disk.</param>
    /// <param name="name">For people.</param>
    /// <param name="meant">The plan that it should follow.</param>
    /// <param name="files">The session's media, for its own render.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <exception cref="BadInputException">The package cannot be read at all; what can be read and is wrong is a row.</exception>
    public static ProofReport Prove(
        string zip, string name, DeliveryPlan meant, IMediaFiles files, Action<WorkProgress> report, CancellationToken stop)
    {
        using var package = PackageReader.Open(zip, name);
        return new PackageProof(package, zip, name, meant, files, report, stop).Prove();
    }

    private ProofReport Prove()
    {
        Listing();
        Part("session document", ProveDocument, PlannedKind.SessionDocument);
        Part("MIDI file", ProveMidi, PlannedKind.Midi);
        Small(PlannedKind.SessionSheet);
        ProveSound();
        _report(new WorkProgress(1, "finished"));
        return ProofReport.Make(_name, DateTimeOffset.UtcNow, _rows, _dots, _residuals);
    }

    private void Listing()
    {
        var meant = _meant.Files.Select(f => f.Path).ToHashSet();
        var found = _package.Paths.ToList();
        foreach (var missing in meant.Where(p => !_package.Has(p)))
        {
            Row(missing, "file", "there", "missing", "missing", false);
        }

        foreach (var extra in found.Where(p => !meant.Contains(p)))
        {
            Row(extra, "file", "not there", "there", "one too many", false);
        }

        foreach (var twice in found.GroupBy(p => p).Where(g => g.Count() > 1))
        {
            Row(twice.Key, "file", "once", $"{twice.Count()} times", "twice", false);
        }

        Row("Package", "files", Digits.Grouped(meant.Count), Digits.Grouped(found.Count), Digits.Grouped(found.Count - meant.Count), found.Count == meant.Count);
        Row("Package", "range", Span(_meant.Range), Span(new DeliveryRange(_package.Manifest.RangeStart, _package.Manifest.RangeEnd)), "",
            _package.Manifest.RangeStart == _meant.Range.Start && _package.Manifest.RangeEnd == _meant.Range.End);
        static string Span(DeliveryRange range) => $"{Digits.Grouped(range.Start)} to {Digits.Grouped(range.End)}";
    }

    private void Part(string what, Action<byte[], string> prove, PlannedKind kind)
    {
        _stop.ThrowIfCancellationRequested();
        _report(new WorkProgress(0.01, $"reading the {what}"));
        if (Small(kind) is { } found)
        {
            try
            {
                prove(found.Bytes, found.Path);
            }
            catch (BadInputException problem)
            {
                Row(found.Path, "reading", "readable", problem.Message, "broken", false);
            }
        }
    }

    /// <summary>Reads a small file and checks its hash against the manifest.</summary>
    private (byte[] Bytes, string Path)? Small(PlannedKind kind)
    {
        var path = _meant.Files.First(f => f.Kind == kind).Path;
        if (!_package.Has(path))
        {
            return null;
        }

        var bytes = _package.Read(path);
        Hash(path, Convert.ToHexStringLower(SHA256.HashData(bytes)), bytes.Length);
        return (bytes, path);
    }

    private void Hash(string path, string sha256, long bytes)
    {
        var claim = _package.Manifest.Files.FirstOrDefault(f => f.Plan.Path == path);
        var same = claim is not null && claim.Sha256 == sha256 && claim.Bytes == bytes;
        lock (_rows)
        {
            Row(path, "SHA-256", claim?.Sha256[..16] ?? "not in the manifest", sha256[..16], same ? "0" : "differs", same);
        }
    }

    private void ProveDocument(byte[] bytes, string path)
    {
        using var stream = new MemoryStream(bytes);
        _rows.AddRange(SessionComparison.Compare(_meant.DeliveredSession(), SessionDocumentReader.Read(stream, path)));
    }

    private void ProveMidi(byte[] bytes, string path)
    {
        using var stream = new MemoryStream(bytes);
        _rows.AddRange(MidiComparison.Compare(PackageBuilder.MeantMidi(_meant), SmfReader.Read(stream, path)));
        var drift = MidiExport.Drift(_meant.Session, _meant.Range.Start);
        Row("MIDI", "grid against sound", "within what the format holds", string.Create(CultureInfo.InvariantCulture, $"{drift:0.00} samples at most"), "stated", true);
    }

    private void ProveSound()
    {
        var files = _meant.Files.Where(f => f.Kind == PlannedKind.FromZero && _package.Has(f.Path)).ToList();
        using var opener = new MediaOpener(_files, _meant.Session.Rate, _stop);
        var proofs = new TrackProof?[files.Count];
        var done = 0;
        Parallel.For(0, files.Count, new ParallelOptions { CancellationToken = _stop, MaxDegreeOfParallelism = Environment.ProcessorCount }, i =>
        {
            proofs[i] = ProveTrack(files[i], opener);
            _report(new WorkProgress((double)Interlocked.Increment(ref done) / files.Count, $"compared {Path.GetFileName(files[i].Path)}"));
        });
        foreach (var proof in proofs.OfType<TrackProof>())
        {
            _rows.AddRange(proof.Rows);
            _dots.AddRange(proof.Dots);
            if (proof.Residual is { } residual)
            {
                _residuals.Add(residual);
            }
        }
    }

    private TrackProof ProveTrack(PlannedFile file, MediaOpener opener)
    {
        Directory.CreateDirectory(_files.Scratch);
        var scratch = Path.Combine(_files.Scratch, $"{Guid.NewGuid():N}.proof");
        try
        {
            // A zip reader is for one thread; each track opens its own.
            using var package = PackageReader.Open(_zip, _name);
            var (sha256, bytes) = package.CopyTo(file.Path, scratch, _stop);
            Hash(file.Path, sha256, bytes);
            return TrackProof.Prove(_meant, file, scratch, opener, _stop);
        }
        catch (BadInputException problem)
        {
            return TrackProof.Broken(file, problem);
        }
        finally
        {
            File.Delete(scratch);
        }
    }

    private void Row(string subject, string what, string meant, string found, string difference, bool passed) =>
        _rows.Add(new ProofRow(subject, what, meant, found, difference, passed));
}
