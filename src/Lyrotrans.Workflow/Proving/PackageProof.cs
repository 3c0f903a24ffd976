using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Storing;
using Lyrotrans.Core.Time;
using System.Globalization;
using Lyrotrans.Audio.Instruments;
using System.Security.Cryptography;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Running;
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
    private readonly IStoredFile _zip;
    private readonly string _name;
    private readonly Action<WorkProgress> _report;
    private readonly CancellationToken _stop;
    private readonly List<ProofRow> _rows = [];
    private readonly List<ClipDot> _dots = [];
    private readonly List<SoundResidual> _residuals = [];
    private readonly List<SoundOvers> _overs = [];
    private StemSum? _stems;

    private PackageProof(
        PackageReader package, IStoredFile zip, string name, DeliveryPlan meant, IMediaFiles files, Action<WorkProgress> report, CancellationToken stop)
    {
        _package = package;
        _zip = zip;
        _name = name;
        _meant = meant;
        _files = files;
        _report = report;
        _stop = stop;
    }

    /// <param name="zip">The package.</param>
    /// <param name="name">For people.</param>
    /// <param name="meant">The plan that it should follow.</param>
    /// <param name="files">The session's media, for its own render.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <exception cref="BadInputException">The package cannot be read at all; what can be read and is wrong is a row.</exception>
    public static ProofReport Prove(
        IStoredFile zip, string name, DeliveryPlan meant, IMediaFiles files, Action<WorkProgress> report, CancellationToken stop)
    {
        using var package = PackageReader.Open(zip, name);
        return new PackageProof(package, zip, name, meant, files, report, stop).Prove();
    }

    private ProofReport Prove()
    {
        Listing();
        Part("session document", ProveDocument, Only(PlannedKind.SessionDocument));
        foreach (var file in _meant.Files.Where(f => f.Kind == PlannedKind.Midi))
        {
            Part("MIDI file", (bytes, path) => ProveMidi(bytes, path, file), file);
        }

        foreach (var file in _meant.Files.Where(f => f.Kind == PlannedKind.MarkerList))
        {
            Part("marker list", ProveMarkers, file);
        }

        Small(Only(PlannedKind.SessionSheet));
        ProveClips();
        ProveSound();
        _report(new WorkProgress(1, "finished"));
        return ProofReport.Make(_name, DateTimeOffset.UtcNow, _rows, _dots, _residuals) with { Stems = _stems, Overs = _overs };
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
        Row("Package", "range", Span(_meant.Range), Span(new SampleRange(_package.Manifest.RangeStart, _package.Manifest.RangeEnd)), "",
            _package.Manifest.RangeStart == _meant.Range.Start && _package.Manifest.RangeEnd == _meant.Range.End);
        static string Span(SampleRange range) => $"{Digits.Grouped(range.Start)} to {Digits.Grouped(range.End)}";
    }

    private PlannedFile Only(PlannedKind kind) => _meant.Files.First(f => f.Kind == kind);

    private void Part(string what, Action<byte[], string> prove, PlannedFile file)
    {
        _stop.ThrowIfCancellationRequested();
        _report(new WorkProgress(0.01, $"reading the {what}"));
        if (Small(file) is { } found)
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
    private (byte[] Bytes, string Path)? Small(PlannedFile file)
    {
        var path = file.Path;
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
        var found = SessionDocumentReader.Read(stream, path);
        _rows.AddRange(SessionComparison.Compare(_meant.DeliveredSession(), _package.Manifest.HasNoMediaHashes ? found : MediaNames.WithoutHashes(found)));
    }

    private void ProveMarkers(byte[] bytes, string path)
    {
        using var stream = new MemoryStream(bytes);
        FindingList unread = [];
        var found = MarkerJoin.FromList(_meant.Session, MarkerListReader.Read(stream, path), path, unread).Select(m => (m.Text, m.Sample, m.Length)).ToList();
        var meant = _meant.Session.Markers.Select(m => (Text: m.Text.Trim(), m.Sample, m.Length)).ToList();
        var off = meant.Where((m, i) => i >= found.Count || m != found[i]).Count() + Math.Max(0, found.Count - meant.Count);
        Row("Markers", "texts, starts and ends in the list", Digits.Grouped(meant.Count), unread.FirstOrDefault()?.Text ?? Digits.Grouped(found.Count), Digits.Grouped(off), off == 0);
    }

    private void ProveMidi(byte[] bytes, string path, PlannedFile file)
    {
        using var stream = new MemoryStream(bytes);
        var found = SmfReader.Read(stream, path);
        _rows.AddRange(MidiComparison.Compare(MeantMidi.Of(_meant, file), found));
        if (file.PartId is null)
        {
            ProveGrid(found);
        }
    }

    /// <summary>The grid that a reader makes of the found tempo events, against the session's own.</summary>
    private void ProveGrid(SmfFile found)
    {
        var grid = new MidiGrid(_meant.Session, _meant.Range.Start);
        var steps = SmfContents.Of(found).Tempos.Select(t => new TempoStep(t.Tick, t.Microseconds)).ToList();
        if (steps.Count == 0 || found.TicksPerQuarter != grid.Division)
        {
            return;
        }

        var drift = TempoSteps.Drift(_meant.Session, grid, steps);
        var corrected = _meant.Preparation.Midi.Tempo == TempoForm.Corrected;
        var passes = !corrected || drift.Samples <= 1;
        Row("MIDI", "grid against sound", corrected ? "at most 1 sample at any beat" : "plain: stated", string.Create(CultureInfo.InvariantCulture, $"{drift.Samples:0.00} samples at {drift.At}"), passes ? "stated" : "strays", passes);
    }

    private void ProveClips()
    {
        var files = _meant.Files.Where(f => f.Kind == PlannedKind.ClipFile && _package.Has(f.Path)).ToList();
        if (files.Count == 0)
        {
            return;
        }

        _report(new WorkProgress(0.05, $"reading the {_meant.Preparation.Clips.Format}"));
        var opener = new MediaOpener(_files, _meant.Session.Rate);
        var beside = _meant.Files.Where(f => f.Kind == PlannedKind.ClipMedia).ToDictionary(f => Path.GetFileName(f.Path));
        foreach (var medium in beside.Values.Where(f => _package.Has(f.Path)))
        {
            CopyOut(medium, _ => { }, _ => { });
        }

        files.ForEach(file => CopyOut(file, scratch =>
        {
            var proof = ClipsProof.Prove(_meant, file.Part, scratch, file.Path, name => beside.TryGetValue(name, out var medium) ? OpenCopy(medium) : null, opener, _files, _stop);
            _rows.AddRange(proof.Rows);
            _dots.AddRange(proof.Dots);
        }, problem => Row(file.Path, "reading", "readable", problem.Message, "broken", false)));
    }

    /// <summary>A sound file of the package, as a stream that can be sought in; gone when it is closed.</summary>
    private FileStream? OpenCopy(PlannedFile file)
    {
        if (!_package.Has(file.Path))
        {
            return null;
        }

        Directory.CreateDirectory(_files.Scratch);
        var scratch = Path.Combine(_files.Scratch, $"{Guid.NewGuid():N}.proof");
        _package.CopyTo(file.Path, scratch, _stop);
        return new FileStream(scratch, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16, FileOptions.DeleteOnClose);
    }

    private void ProveSound()
    {
        var files = _meant.Files.Where(f => f.IsSound && _package.Has(f.Path)).ToList();
        var opener = new MediaOpener(_files, _meant.Session.Rate);
        using var notes = new NoteSoundFiles(new SoundFontSounds(), _files.Scratch);
        var printing = new Printing(_meant, opener, notes);
        var proofs = new SoundProof?[files.Count];
        var others = new IReadOnlyList<ProofRow>?[files.Count];
        var done = 0;
        AtOnce.Each(files.Count, i =>
        {
            WithSound(files[i], sound =>
            {
                if (files[i].Kind == PlannedKind.Click)
                {
                    others[i] = ClickProof.Prove(_meant, files[i], sound, _package.Manifest.LoweredDb, _stop);
                }
                else
                {
                    proofs[i] = SoundProof.Prove(_meant, files[i], sound, printing, _package.Manifest.LoweredDb, _stop);
                }
            }, problem => others[i] = [SoundProof.Broken(files[i], problem)]);
            _report(new WorkProgress((double)Interlocked.Increment(ref done) / files.Count, $"compared {Path.GetFileName(files[i].Path)}"));
        }, _stop);
        _rows.AddRange(others.OfType<IReadOnlyList<ProofRow>>().SelectMany(r => r));
        foreach (var proof in proofs.OfType<SoundProof>())
        {
            _rows.AddRange(proof.Rows);
            _dots.AddRange(proof.Dots);
            if (proof.Residual is { } residual)
            {
                _residuals.Add(residual);
            }

            if (proof.Overs is { } overs)
            {
                _overs.Add(overs);
            }
        }

        ProveStems(printing);
        ProveCopies();
    }

    /// <summary>The stems at unity against the mix.</summary>
    private void ProveStems(Printing printing)
    {
        var stems = _meant.Files.Where(f => f.Kind == PlannedKind.Stem).ToList();
        if (stems.Count == 0 || stems.Any(f => !_package.Has(f.Path)))
        {
            return;
        }

        _report(new WorkProgress(0.95, "adding the stems up"));
        var open = new List<FoundSound>();
        try
        {
            open.AddRange(stems.Select(f => FoundSound.Open(_package, f, _files.Scratch, _stop)));
            var guide = _meant.Files.FirstOrDefault(f => f.Kind == PlannedKind.GuideMix && _package.Has(f.Path));
            var mix = guide is null ? null : FoundSound.Open(_package, guide, _files.Scratch, _stop);
            open.AddRange(mix is null ? [] : [mix]);
            if (open.Any(o => o.Sound.Source.Channels != stems[0].Channels))
            {
                return;
            }

            var gain = Decibels.ToRatio(_package.Manifest.LoweredDb);
            var sum = StemSumProof.Measure(_meant, open.Take(stems.Count).Select(o => o.Sound).ToList(), mix?.Sound, printing, gain, _stop);
            var mixed = _meant.Files.Where(f => f.Kind is PlannedKind.Stem or PlannedKind.GuideMix).Select(f => f.Path).ToHashSet();
            sum = sum with { Clipped = _overs.Any(o => mixed.Contains(o.Path)) };
            _stems = sum;
            var why = sum.Bent.Count > 0 ? $"not linear: {string.Join(", ", sum.Bent.Select(b => $"{b.Effect} on {b.Track}"))}" : sum.Clipped ? "not linear: held at full scale" : null;
            Row("Stems", "sum less the mix", why ?? $"below {Decibels.Words(sum.BoundDb)} dBFS",
                $"{Decibels.Words(sum.WorstDb)} dBFS", why is null ? $"{Decibels.Words(sum.WorstDb)} dBFS" : "stated", sum.Passed);
        }
        catch (BadInputException problem)
        {
            Row("Stems", "reading", "readable", problem.Message, "broken", false);
        }
        finally
        {
            open.ForEach(o => o.Dispose());
        }
    }

    /// <summary>Copies to listen to are lossy: there, and as long as they should be.</summary>
    private void ProveCopies()
    {
        foreach (var file in _meant.Files.Where(f => f.Kind == PlannedKind.ListeningCopy && _package.Has(f.Path)))
        {
            WithSound(file, sound =>
            {
                // A codec of blocks may end a little later; never earlier.
                var late = sound.Facts.Frames - file.Frames;
                var passes = sound.Facts.Channels == file.Channels && late >= 0 && late <= _meant.Session.Rate.HeaderHz / 4;
                Row(Path.GetFileName(file.Path), "copy to listen to", $"{Digits.Grouped(file.Frames)} samples", $"{Digits.Grouped(sound.Facts.Frames)} samples", Digits.Grouped(late), passes);
            }, problem => Row(Path.GetFileName(file.Path), "reading", "readable", problem.Message, "broken", false));
        }
    }

    /// <summary>Hashes a sound file of the package and opens it where it lies, or a copy of it where it has to be unpacked.</summary>
    private void WithSound(PlannedFile file, Action<SoundFile> prove, Action<BadInputException> broken)
    {
        try
        {
            // A zip reader is for one thread; each file opens its own.
            using var package = PackageReader.Open(_zip, _name);
            using (var stream = package.OpenStored(file.Path) ?? package.OpenPacked(file.Path))
            {
                Hash(file.Path, Convert.ToHexStringLower(SHA256.HashData(stream)), package.SizeOf(file.Path));
            }

            using var open = FoundSound.Open(package, file, _files.Scratch, _stop);
            prove(open.Sound);
        }
        catch (BadInputException problem)
        {
            broken(problem);
        }
    }

    private void CopyOut(PlannedFile file, Action<string> prove, Action<BadInputException> broken)
    {
        Directory.CreateDirectory(_files.Scratch);
        var scratch = Path.Combine(_files.Scratch, $"{Guid.NewGuid():N}.proof");
        try
        {
            // A zip reader is for one thread; each track opens its own.
            using var package = PackageReader.Open(_zip, _name);
            var (sha256, bytes) = package.CopyTo(file.Path, scratch, _stop);
            Hash(file.Path, sha256, bytes);
            prove(scratch);
        }
        catch (BadInputException problem)
        {
            broken(problem);
        }
        finally
        {
            File.Delete(scratch);
        }
    }

    private void Row(string subject, string what, string meant, string found, string difference, bool passed) =>
        _rows.Add(new ProofRow(subject, what, meant, found, difference, passed));
}
