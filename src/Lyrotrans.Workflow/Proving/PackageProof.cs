using System.Collections.Concurrent;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Storing;
using Lyrotrans.Core.Time;
using System.Globalization;
using Lyrotrans.Audio.Instruments;
using Lyrotrans.Audio.Sources;
using System.Security.Cryptography;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Files;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Pictures;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>
/// Reads a package back and compares it with what was meant: every file against its hash, every clip, fade, gain, tempo,
/// marker and note against the session, and every print against the session's own render, by subtraction.
/// </summary>
public sealed class PackageProof : IDisposable
{
    // How far it is when the package was made again, when its documents are read, and when its clips are.
    private const double Remade = 0.8;
    private const double Reading = 0.82;
    private const double Clips = 0.85;
    private const double Sounds = 0.88;
    private const double Stems = 0.95;
    private readonly DeliveryPlan _meant;
    private readonly IMediaFiles _files;
    private readonly PackageReader _package;
    private readonly IStoredFile _zip;
    private readonly string _name;
    private readonly ProofTerms _terms;
    private readonly Action<WorkProgress> _report;
    private readonly CancellationToken _stop;
    private readonly List<ProofRow> _rows = [];
    private readonly CarryProof _carried;
    private readonly List<ClipDot> _dots = [];
    private readonly List<SoundResidual> _residuals = [];
    private readonly List<SoundOvers> _overs = [];
    private readonly Printing _printing;
    private readonly NoteSoundFiles _notes;
    private readonly ConcurrentDictionary<string, SoundProof> _sounds = new();
    private readonly ConcurrentDictionary<string, IReadOnlyList<ProofRow>> _otherSounds = new();
    private readonly List<string> _words;
    private readonly SoundGaps _gaps;
    private SignatureProof? _signature;
    private StemSum? _stems;
    private GuideRest? _guide;
    private double _loweredDb;

    private PackageProof(
        PackageReader package, IStoredFile zip, string name, DeliveryPlan meant, IMediaFiles files, ProofTerms terms, Action<WorkProgress> report, CancellationToken stop)
    {
        _package = package;
        _terms = terms;
        _words = [.. terms.OwnWords];
        _zip = zip;
        _name = name;
        (_meant, _carried) = (meant, new CarryProof(meant));
        _files = files;
        _report = report;
        _stop = stop;
        _loweredDb = package.Manifest.LoweredDb;
        _notes = new NoteSoundFiles(new SoundFontSounds(), files.Scratch);
        var faults = MediaFaults.Of(meant.Session, files, stop);
        _gaps = meant.GapsWith(faults);
        _printing = new Printing(meant, new MediaOpener(files, meant.Session.Rate), _notes)
        {
            Silent = meant.Session.Media.Where(m => m.IsAbsent || faults.GetValueOrDefault(m.Id) == MediaFault.Missing).Select(m => m.Id).ToHashSet(),
        };
    }

    /// <inheritdoc/>
    public void Dispose() => _notes.Dispose();

    /// <param name="zip">The package.</param>
    /// <param name="name">For people.</param>
    /// <param name="meant">The plan that it should follow.</param>
    /// <param name="files">The session's media, for its own render.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <param name="terms">What it is proved against; a room's own where it is not said.</param>
    /// <exception cref="BadInputException">The package cannot be read at all; what can be read and is wrong is a row.</exception>
    public static ProofReport Prove(
        IStoredFile zip, string name, DeliveryPlan meant, IMediaFiles files, Action<WorkProgress> report, CancellationToken stop, ProofTerms? terms = null)
    {
        using var package = PackageReader.Open(zip, name);
        using var proof = new PackageProof(package, zip, name, meant, files, terms ?? ProofTerms.Own, report, stop);
        return proof.Prove();
    }

    private ProofReport Prove()
    {
        foreach (var word in _words.ToList())
        {
            Row("Package", word, "the package's own word", "taken from the package", "stated", true);
        }

        Listing();
        ProveSignature();
        var remade = Remake();
        Part("session document", ProveDocument, Only(PlannedKind.SessionDocument));
        foreach (var file in _meant.Files.Where(f => f.Kind == PlannedKind.Midi))
        {
            Part("MIDI file", (bytes, path) => ProveMidi(bytes, path, file), file);
        }

        foreach (var file in _meant.Files.Where(f => f.Kind == PlannedKind.MarkerList))
        {
            Part("marker list", ProveMarkers, file);
        }

        foreach (var file in _meant.Files.Where(f => f.Kind == PlannedKind.LevelTable))
        {
            Part("table of levels", (bytes, path) => ProveLevels(bytes, path, remade), file);
        }

        if (_package.Has(Only(PlannedKind.SettingsTable).Path))
        {
            Part("table of settings", ProveSettings, Only(PlannedKind.SettingsTable));
        }

        Small(Only(PlannedKind.SessionSheet));
        ProveClips();
        ProvePicture();
        _rows.AddRange(EarlierForm ? [] : _carried.Rows());
        ProveSound(remade);
        _report(new WorkProgress(1, "finished"));
        var report = ProofReport.Make(_name, DateTimeOffset.UtcNow, _rows, _dots, _residuals) with { Stems = _stems, Guide = _guide, Overs = _overs, OwnWords = _words };
        return GapRows.With(report, _gaps.Accepting(_terms.Accepted));
    }

    private void Listing()
    {
        // Packages from before there were signatures, or tables of settings, have none.
        var meant = _meant.Files.Where(f => (f.Kind != PlannedKind.Signature || _package.Manifest.IsSigned) && (f.Kind != PlannedKind.SettingsTable || !EarlierForm || _package.Has(f.Path))).Select(f => f.Path).ToHashSet();
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

    // From then on its document names the package's own files as its media.
    private bool SaysItsFiles => _package.Manifest.Stamp is { Writer: >= PackageStamp.FirstWithFiles };

    private bool EarlierForm => _package.Manifest.Stamp is not { } stamp || stamp.Writer is > 0 and < PackageStamp.WriterHere;

    /// <summary>Makes the package again, beside the one that was found, and compares every byte; null where it cannot be made as it was.</summary>
    private ComparedPackage? Remake()
    {
        if (EarlierForm || _package.Manifest.Stamp is not { } stamp)
        {
            Row("Package", "every byte", "as made again", "an earlier version made it: compared by what its files say", "stated", !_terms.MadeHere);
            _words.Add("its earlier form");
            return null;
        }

        Row("Package", "date", "the package's own word", stamp.Made.ToString("yyyy-MM-dd HH:mm:ss zzz", CultureInfo.InvariantCulture), "stated", true);
        if (stamp.Writer != PackageStamp.WriterHere)
        {
            Row("Package", "form", $"{PackageStamp.WriterHere}", $"{stamp.Writer}", "made by a newer version: prove it there", false);
            return null;
        }

        var other = stamp.OtherMachine();
        if (other is not null)
        {
            Row("Package", "every byte", "as made again", $"{other}: what is computed or coded is compared by what it says, all else to the byte", "stated", true);
        }

        var planned = _meant.Files.ToDictionary(f => f.Path);
        var compared = new ComparedPackage(_zip, OpenFound, path => other is null ? null : ComputedBytes.Of(_meant, planned[path], _printing, stamp.Made));
        try
        {
            _loweredDb = PackageBuilder.Build(_meant, _gaps, _files, compared, stamp, Signed, p => _report(new WorkProgress(p.Fraction * Remade, p.Doing.Replace("writing", "comparing", StringComparison.Ordinal))), _stop, watch: (file, lowered) => Watch(file, lowered, compared)).LoweredDb;
        }
        catch (BadInputException problem)
        {
            Row("Package", "every byte", "as made again", problem.Message, "could not be made again", false);
            return null;
        }

        foreach (var entry in compared.Entries.Where(e => e.IsThere))
        {
            Row(entry.Path, "every byte", entry.MeantSha256[..16], entry.Sha256[..16], entry.DiffersAt is { } at ? $"differs from byte {Digits.Grouped(at)} on" : entry.Differs ? "stated" : "0", entry.DiffersAt is null);
        }

        if (!_terms.Unpacked && compared.Entries.All(e => e.IsThere && e.DiffersAt is null))
        {
            var records = compared.RecordsDifferAt(stamp.Made);
            Row("Package", "records of the zip", "as written", records is null ? "as written" : "others", records is { } at ? $"differ from byte {Digits.Grouped(at)} on" : "0", records is null);
        }

        return compared;
    }

    private void ProveSignature()
    {
        if (!_package.Manifest.IsSigned)
        {
            Row("Package", "signature", "of the manifest", "an earlier version made it: not signed", "stated", !_terms.MadeHere);
            return;
        }

        _signature = SignatureProof.Read(_package, Only(PlannedKind.Signature).Path);
        _rows.Add(_signature.Row(_package.ManifestBytes, _terms.Known, _terms.MadeHere));
        if (!_signature.IsKnown(_terms.Known))
        {
            _words.Add("signer");
        }
    }

    // Nobody here can sign as its maker did: a signature that is good for the manifest that was made again is taken as it is.
    private byte[] Signed(byte[] manifest) => _signature?.Signature is { } signature && signature.IsOf(manifest) ? signature.ToJson() : [];

    private PrintComparison? Watch(PlannedFile file, double loweredDb, ComparedPackage compared)
    {
        if (file.Kind == PlannedKind.Click || !_package.Has(file.Path))
        {
            return null;
        }

        var package = PackageReader.Open(_zip, _name);
        try
        {
            var found = FoundSound.Open(package, file, _files.Scratch, _stop);
            var proof = SoundProof.Begin(_meant, file, found.Sound, _printing, loweredDb, !EarlierForm);
            _sounds[file.Path] = proof;
            return new PrintComparison(proof, package, found, () => _printing.Open(file, loweredDb), () => compared[file.Path].Differs);
        }
        catch (BadInputException problem)
        {
            package.Dispose();
            _otherSounds[file.Path] = [SoundProof.Broken(file, problem)];
            return null;
        }
    }

    private PlannedFile Only(PlannedKind kind) => _meant.Files.First(f => f.Kind == kind);

    private void Part(string what, Action<byte[], string> prove, PlannedFile file)
    {
        _stop.ThrowIfCancellationRequested();
        _report(new WorkProgress(Reading, $"reading the {what}"));
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
        _rows.AddRange(SessionComparison.Compare(SaysItsFiles ? _meant.DeliveredSession(_package.Manifest.LoweredDb) : _meant.EarlierRecord(), _package.Manifest.HasNoMediaHashes ? found : MediaNames.WithoutHashes(found)));
    }

    private void ProveMarkers(byte[] bytes, string path)
    {
        using var stream = new MemoryStream(bytes);
        FindingList unread = [];
        var found = MarkerJoin.FromList(_meant.Timeline, MarkerListReader.Read(stream, path), path, unread).Select(m => (m.Text, m.Sample, m.Length, m.By, m.Date)).ToList();
        var meant = _meant.Timeline.Markers.Select(m => (Text: m.Text.Trim(), m.Sample, m.Length, By: m.By.Trim(), Date: m.Date.Trim())).ToList();
        var off = meant.Where((m, i) => i >= found.Count || m != found[i]).Count() + Math.Max(0, found.Count - meant.Count);
        _carried.Markers(found.Count);
        Row("Markers", "texts, starts, ends, who and when in the list", Digits.Grouped(meant.Count), unread.FirstOrDefault()?.Text ?? Digits.Grouped(found.Count), Digits.Grouped(off), off == 0);
    }

    private void ProveSettings(byte[] bytes, string path)
    {
        var same = bytes.AsSpan().SequenceEqual(SettingsTable.Write(_meant.Said));
        Row(path, "faders, pans, sends and effects", "as in the session", same ? "as in the session" : "otherwise", same ? "0" : "differs", same);
    }

    private void ProveLevels(byte[] bytes, string path, ComparedPackage? remade)
    {
        // Made again with the same bytes, it was measured already.
        if (remade?[path].Differs == false)
        {
            return;
        }

        var levels = PackageLevels.Measure(_zip, _meant, _files.Scratch, _stop);
        var off = LevelTable.Difference(_meant.Files.Where(f => f.IsSound && levels.ContainsKey(f.Path)).Select(f => (f.Path[(_meant.Root.Length + 1)..], levels[f.Path])), bytes);
        Row(path, "levels of the files", "as measured here", off ?? "as measured here", off is null ? "0" : "differs", off is null);
    }

    private void ProveMidi(byte[] bytes, string path, PlannedFile file)
    {
        using var stream = new MemoryStream(bytes);
        var found = SmfReader.Read(stream, path);
        _rows.AddRange(MidiComparison.Compare(MeantMidi.Of(_meant, file), found, tempos: !EarlierForm));
        var tracks = SmfContents.Of(found).Tracks;
        _carried.Midi(tracks.Sum(t => (long)t.Notes.Count), tracks.Sum(t => (long)t.Controls.Count));
        if (file.PartId is null || EarlierForm)
        {
            ProveGrid(found);
        }
    }

    /// <summary>The grid that a reader makes of the found tempo events, against the session's own.</summary>
    private void ProveGrid(SmfFile found)
    {
        var grid = new MidiGrid(_meant.Musical, _meant.TimelineRange.Start);
        var steps = SmfContents.Of(found).Tempos.Select(t => new TempoStep(t.Tick, t.Microseconds)).ToList();
        if (steps.Count == 0 || found.TicksPerQuarter != grid.Division)
        {
            return;
        }

        var drift = TempoSteps.Drift(_meant.Musical, grid, steps, EarlierForm ? grid.Beats : grid.CheckPoints);
        var form = _meant.Preparation.Midi.Tempo;
        var passes = drift.Keeps(form) || (drift.Why is not null && drift.Samples <= MeantMidi.Drift(_meant, form).Samples);
        var bound = TempoBound.Of(form) is { } samples ? $"at most {Phrases.Count(samples, "sample")} at any {(EarlierForm ? "beat" : "event")}" : "plain: stated";
        Row("MIDI", "grid against sound", bound, drift.ToString(), passes ? "stated" : "strays", passes);
    }

    private void ProveClips()
    {
        var files = _meant.Files.Where(f => f.Kind == PlannedKind.ClipFile && _package.Has(f.Path)).ToList();
        if (files.Count == 0)
        {
            return;
        }

        _report(new WorkProgress(Clips, $"reading the {_meant.Preparation.Clips.Format}"));
        var opener = new MediaOpener(_files, _meant.Session.Rate);
        var beside = _meant.Files.Where(f => f.Kind == PlannedKind.ClipMedia).ToDictionary(f => Path.GetFileName(f.Path));
        foreach (var medium in beside.Values.Where(f => _package.Has(f.Path)))
        {
            CopyOut(medium, _ => { }, _ => { });
        }

        files.ForEach(file => CopyOut(file, scratch =>
        {
            var proof = ClipsProof.Prove(_meant, file.Part, scratch, file.Path, name => beside.TryGetValue(name, out var medium) ? OpenFound(medium.Path) : null, opener, _files, _stop);
            _rows.AddRange(proof.Rows);
            _dots.AddRange(proof.Dots);
            _carried.Clips(proof.Found);
        }, problem => Row(file.Path, "reading", "readable", problem.Message, "broken", false)));
    }

    private void ProvePicture()
    {
        if (_meant.Picture is not { } plan || !_package.Has(Only(PlannedKind.Picture).Path))
        {
            return;
        }

        var file = Only(PlannedKind.Picture);
        _report(new WorkProgress(Clips, "reading the picture"));
        CopyOut(file, scratch =>
        {
            var stored = StoredPicture.Find(plan.Source, _files) ?? throw new BadInputException(BuildCodes.NotPossible, plan.Source.FileName, string.Empty, "The picture is not there any more.", "Bring it in again.");
            using var source = StoredPicture.Open(stored, plan.Source.FileName);
            using var found = StoredPicture.Open(new DiskFile(scratch), Path.GetFileName(file.Path));
            _rows.AddRange(new PictureProof(plan, file, source.Source, found.Source, _stop).Rows());
        }, problem => Row(file.Path, "reading", "readable", problem.Message, "broken", false));
    }

    /// <summary>A file of the package, as a stream that can be sought in: where it lies, or as a copy that is gone when it is closed; null where it is not there. From any thread.</summary>
    private Stream? OpenFound(string path)
    {
        if (_package.OpenStored(path) is { } stored)
        {
            return stored;
        }

        using var package = PackageReader.Open(_zip, _name);
        if (!package.Has(path))
        {
            return null;
        }

        Directory.CreateDirectory(_files.Scratch);
        var scratch = Path.Combine(_files.Scratch, $"{Guid.NewGuid():N}.proof");
        package.CopyTo(path, scratch, _stop);
        return new FileStream(scratch, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16, FileOptions.DeleteOnClose);
    }

    private void ProveSound(ComparedPackage? remade)
    {
        var files = _meant.Files.Where(f => f.IsSound && _package.Has(f.Path)).ToList();
        var done = 0;
        AtOnce.Each(files.Count, i =>
        {
            var file = files[i];
            if (remade is not null && file.Kind != PlannedKind.Click)
            {
                Hash(file.Path, remade[file.Path].Sha256, remade[file.Path].Bytes);
                return;
            }

            WithSound(file, sound =>
            {
                if (file.Kind == PlannedKind.Click)
                {
                    _otherSounds[file.Path] = ClickProof.Prove(_meant, file, sound, _loweredDb, _stop);
                }
                else
                {
                    _sounds[file.Path] = SoundProof.Prove(_meant, file, sound, _printing, _loweredDb, !EarlierForm, _stop);
                }
            }, problem => _otherSounds[file.Path] = [SoundProof.Broken(file, problem)]);
            _report(new WorkProgress(Sounds + ((Stems - Sounds) * Interlocked.Increment(ref done) / files.Count), $"compared {Path.GetFileName(file.Path)}"));
        }, _stop);
        _rows.AddRange(files.SelectMany(f => _otherSounds.GetValueOrDefault(f.Path) ?? []));
        foreach (var proof in files.Select(f => _sounds.GetValueOrDefault(f.Path)).OfType<SoundProof>())
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

        ProveConversions();
        ProveStems();
        ProveGuide();
        ProveCopies(remade);
        ProveSameSounds();
    }

    /// <summary>What was converted to another rate, against a second converter.</summary>
    private void ProveConversions()
    {
        var lot = Convert.ToHexStringLower(SHA256.HashData(_package.Manifest.ToJson()));
        var going = MixTracks.Going(_meant.Preparation);
        _rows.AddRange(ConversionProof.Prove("Converted sound", _meant.Session, going, new MediaOpener(_files, _meant.Session.Rate), lot, _stop));
        if (_meant.Clips is not null && _meant.ClipSession.Rate != _meant.Session.Rate)
        {
            var kept = _meant.Preparation.Tracks.Where(c => c.Treatment == Treatment.KeepClips).Select(c => c.TrackId).ToHashSet();
            _rows.AddRange(ConversionProof.Prove("Converted clips", _meant.ClipSession, kept, new MediaOpener(_files, _meant.ClipSession.Rate), lot, _stop));
        }

        try
        {
            _rows.AddRange(PrintConversionProof.Prove(_meant, _printing, lot, _stop));
        }
        catch (BadInputException problem)
        {
            Row("Converted prints", "conversion", "readable", problem.Message, "broken", false);
        }
    }

    /// <summary>The stems at unity against the mix.</summary>
    private void ProveStems()
    {
        var stems = _meant.Files.Where(f => f.Kind == PlannedKind.Stem).ToList();
        if (stems.Count == 0 || stems.Any(f => !_package.Has(f.Path)))
        {
            return;
        }

        _report(new WorkProgress(Stems, "adding the stems up"));
        var open = new List<FoundSound>();
        try
        {
            open.AddRange(stems.Select(f => FoundSound.Open(_package, f, _files.Scratch, _stop)));
            var guide = _meant.Files.FirstOrDefault(f => f.Kind == PlannedKind.GuideMix && _package.Has(f.Path));
            var mix = guide is null || _meant.Preparation.Mix.DryStems || guide.Channel is not null || guide.Channels != stems[0].Channels || (guide.Made.Rate, guide.Made.Encoding, guide.Span) != (stems[0].Made.Rate, stems[0].Made.Encoding, stems[0].Span) ? null : FoundSound.Open(_package, guide, _files.Scratch, _stop);
            open.AddRange(mix is null ? [] : [mix]);
            if (open.Any(o => o.Sound.Source.Channels != stems[0].Channels))
            {
                return;
            }

            // A guide mix that came along is no mix of ours.
            var brought = TrackRoles.Of(_meant.Session).Guide is not null;
            var sum = StemSumProof.Measure(_meant, [.. stems.Zip(open, (file, found) => (file, found.Sound))], brought ? null : mix?.Sound, _printing, Decibels.ToRatio(_loweredDb), _stop);
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

    /// <summary>What our own mix leaves of a guide mix that came along.</summary>
    private void ProveGuide()
    {
        if (TrackRoles.Of(_meant.Session).Guide is null || _meant.Files.FirstOrDefault(f => f.Kind == PlannedKind.GuideMix && _package.Has(f.Path)) is not { } file)
        {
            return;
        }

        try
        {
            using var found = FoundSound.Open(_package, file, _files.Scratch, _stop);
            using var mix = _printing.Mix(MixTracks.Of(_meant.Session, _meant.Preparation), file);
            _guide = found.Sound.Source.Channels == mix.Channels || _meant.Preparation.Kinds[FileKind.GuideMix].Channels is not null ? StemSumProof.Rest(_meant, found.Sound, _printing, Decibels.ToRatio(_loweredDb), _stop) : null;
            Row("Guide mix", "less the mix made here", "as it came along", _guide is { } rest
                ? $"{Decibels.Words(rest.WorstDb)} dBFS left, most in second {Digits.Grouped(rest.LoudestSecond)}"
                : $"not compared: {Phrases.Channels(found.Sound.Source.Channels)}, and {mix.Channels} of the mix", "stated", true);
        }
        catch (BadInputException)
        {
            // That it cannot be read is said with the file itself.
        }
    }

    /// <summary>Copies to listen to are lossy: as long as they should be, and the same sound second by second.</summary>
    private void ProveCopies(ComparedPackage? remade)
    {
        foreach (var file in _meant.Files.Where(f => f.Kind == PlannedKind.ListeningCopy && _package.Has(f.Path)))
        {
            WithSound(file, sound =>
            {
                // A codec of blocks may end a little later; never earlier.
                var late = sound.Facts.Frames - file.Frames;
                var passes = sound.Facts.Channels == file.Channels && late >= 0 && late <= file.Made.Rate.HeaderHz / 4;
                Row(Path.GetFileName(file.Path), "copy to listen to", $"{Digits.Grouped(file.Frames)} samples", $"{Digits.Grouped(sound.Facts.Frames)} samples", Digits.Grouped(late), passes);
                _rows.AddRange(TagProof.Row(_meant, file, sound, Path.GetFileName(file.Path)) is { } tags ? [tags] : []);
                if (passes && remade?[file.Path].Differs != false)
                {
                    ProveCopy(file, sound.Source);
                }
            }, problem => Row(Path.GetFileName(file.Path), "reading", "readable", problem.Message, "broken", false));
        }
    }

    /// <summary>The sound of a file in another format is that of the file, sample for sample.</summary>
    private void ProveSameSounds()
    {
        foreach (var file in _meant.Files.Where(f => f.Kind == PlannedKind.SameSound && _package.Has(f.Path)))
        {
            WithSound(file, sound =>
            {
                var of = _meant.Files.First(f => f.Path == file.Of);
                using var first = _package.Has(of.Path) ? FoundSound.Open(_package, of, _files.Scratch, _stop) : null;
                if (first is not null)
                {
                    _rows.Add(SameSoundProof.Prove(file, sound, first.Sound, _stop));
                }
            }, problem => Row(Path.GetFileName(file.Path), "reading", "readable", problem.Message, "broken", false));
        }
    }

    private void ProveCopy(PlannedFile file, ISampleSource copy)
    {
        var of = _meant.Files.First(f => f.Path == file.Of);
        if (_package.Has(of.Path))
        {
            // What cannot be read, or is not as it was planned, is a row of its own already.
            using var original = FoundSound.Open(_package, of, _files.Scratch, _stop);
            if (original.Is(of))
            {
                _rows.Add(CopyProof.Prove(file, copy, original.Sound.Source, _stop));
            }
        }
    }

    /// <summary>Hashes a sound file of the package and opens it where it lies, or a copy of it where it has to be unpacked.</summary>
    private void WithSound(PlannedFile file, Action<SoundFile> prove, Action<BadInputException> broken)
    {
        try
        {
            // A zip reader is for one thread; each file opens its own.
            using var package = PackageReader.Open(_zip, _name);
            Hash(file.Path, package.Sha256Of(file.Path), package.SizeOf(file.Path));
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
