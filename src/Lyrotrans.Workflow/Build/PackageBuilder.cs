using System.Text;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Build;

/// <summary>
/// Writes a delivery plan's files into one zip (stored, zip64 where needed) or a folder. Sound is written first, on all processors, each file at its place; then what is made
/// of it. The same plan and stamp give the same bytes. The output is whole only when this returns; on any error the caller throws it away.
/// </summary>
public sealed class PackageBuilder
{
    private readonly DeliveryPlan _plan;
    private readonly IPackageOutput _output;
    private readonly IMediaOpener _opener;
    private readonly IMediaFiles _files;
    private readonly PackageStamp _stamp;
    private readonly Func<byte[], byte[]> _sign;
    private byte[] _manifest = [];
    private readonly BuildReport _report;
    private readonly CancellationToken _stop;
    private readonly int _threads;
    private readonly SoundGaps _gaps;
    private readonly Dictionary<string, ManifestFile> _written = [];

    private PackageBuilder(DeliveryPlan plan, SoundGaps gaps, IPackageOutput output, IMediaOpener opener, IMediaFiles files, PackageStamp stamp, Func<byte[], byte[]> sign, BuildReport report, int threads, CancellationToken stop)
    {
        _plan = plan;
        _output = output;
        _opener = opener;
        _files = files;
        _stamp = stamp;
        _sign = sign;
        _report = report;
        _threads = threads;
        _stop = stop;
        _gaps = gaps;
    }

    /// <param name="plan">What to write.</param>
    /// <param name="files">Where the media lie.</param>
    /// <param name="output">Gets the zip; can seek.</param>
    /// <param name="maker">The date of every entry and of the sheet, and who signs.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <param name="threads">How many files are made at once; as many as there are processors where it is not said.</param>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    /// <exception cref="BadInputException">The plan cannot be built as it is, or media cannot be read.</exception>
    /// <exception cref="IOException">The disk is full.</exception>
    public static Manifest Build(
        DeliveryPlan plan, IMediaFiles files, Stream output, PackageMaker maker, Action<WorkProgress> report, CancellationToken stop, int threads = 0) =>
        Build(plan, files, new StoredZip(output, maker.Made), maker, report, stop, threads);

    /// <summary>The same into any output.</summary>
    internal static Manifest Build(
        DeliveryPlan plan, IMediaFiles files, IPackageOutput output, PackageMaker maker, Action<WorkProgress> report, CancellationToken stop, int threads = 0) =>
        Build(plan, plan.GapsWith(MediaFaults.Of(plan.Session, files, stop)), files, output, PackageStamp.Here(maker.Made, plan.Picture is not null), manifest => DetachedSignature.Sign(manifest, maker.Key).ToJson(), report, stop, threads);

    /// <summary>The same for a stamp and gaps that are known, watched on the way where that is wanted.</summary>
    internal static Manifest Build(
        DeliveryPlan plan, SoundGaps gaps, IMediaFiles files, IPackageOutput output, PackageStamp stamp, Func<byte[], byte[]> sign, Action<WorkProgress> report, CancellationToken stop, int threads = 0, Func<PlannedFile, double, IPrintWatch?>? watch = null)
    {
        if (plan.Problem is { } problem)
        {
            throw new BadInputException(BuildCodes.NotPossible, plan.Root, string.Empty, problem, string.Empty);
        }

        var opener = new MediaOpener(files, plan.Session.Rate);
        return new PackageBuilder(plan, gaps, output, opener, files, stamp, sign, new BuildReport(plan, report), threads > 0 ? threads : Environment.ProcessorCount, stop).Write(watch);
    }

    private Manifest Write(Func<PlannedFile, double, IPrintWatch?>? watch)
    {
        using var sounds = new SoundFiles(_plan, _output, _opener, _files, _stamp.Made, _report, watch, _threads, _stop);
        var lowered = sounds.Write(_written);
        foreach (var file in _plan.Files.Where(f => !_written.ContainsKey(f.Path)))
        {
            _stop.ThrowIfCancellationRequested();
            switch (file.Kind)
            {
                case PlannedKind.ClipFile:
                    Stream(file, stream => ClipsFile.Write(_plan, file.Part, _opener, _files, stream, _stop));
                    break;
                case PlannedKind.ClipMedia:
                    Stream(file, stream => ClipsFile.Sound(_plan, file.MediaId!, _opener, _files, _stop).Write(stream));
                    break;
                case PlannedKind.Picture:
                    Stream(file, stream => PictureFile.Write(_plan.Picture!, _files, stream, done => _report.At(file, done / 2), _stop));
                    break;
                case PlannedKind.Midi:
                    Bytes(file, SmfWriter.Write(MeantMidi.Of(_plan, file)));
                    break;
                case PlannedKind.SessionDocument:
                    Bytes(file, SessionDocumentWriter.Write(_plan.DeliveredSession(lowered)));
                    break;
                case PlannedKind.MarkerList:
                    Bytes(file, MarkerListWriter.Write(_plan.Timeline));
                    break;
                case PlannedKind.LevelTable:
                    Bytes(file, LevelTable.Write(_plan.Files.Where(f => f.IsSound).Select(f => (f.Path[(_plan.Root.Length + 1)..], sounds.Levels[f.Path]))));
                    break;
                case PlannedKind.SettingsTable:
                    Bytes(file, SettingsTable.Write(_plan.Said));
                    break;
                case PlannedKind.SessionSheet:
                    Bytes(file, Encoding.UTF8.GetBytes(SessionSheet.Write(_plan, _gaps, Written(), lowered, _stamp.Made)));
                    break;
                case PlannedKind.Manifest:
                    Bytes(file, _manifest = MakeManifest(lowered).ToJson());
                    break;
                case PlannedKind.Signature:
                    Bytes(file, _sign(_manifest));
                    break;
                default:
                    Bytes(file, Encoding.UTF8.GetBytes(string.Concat(Written().Select(f => $"{f.Sha256}  {f.Plan.Path[(_plan.Root.Length + 1)..]}\n"))));
                    break;
            }
        }

        _output.Finish();
        _report.Finish();
        return MakeManifest(lowered);
    }

    /// <summary>The time stamp of a file of sound, in samples of its own rate since midnight; a day wraps.</summary>
    public static long TimeReference(DeliveryPlan plan, PlannedFile file)
    {
        var (session, rate) = (plan.Session, file.Made.Rate);
        var day = rate.SamplesIn(new Core.Time.Rational(session.FrameRate.FramesPerDay, 1) / session.FrameRate.PerSecond).RoundToEven();
        var reference = ((session.Start.Frames / session.FrameRate.PerSecond * rate.PerSecond) + file.Span.Start).RoundToEven() % day;
        return reference < 0 ? reference + day : reference;
    }

    /// <summary>What is written so far, in the plan's order.</summary>
    private List<ManifestFile> Written() => _plan.Files.Where(f => _written.ContainsKey(f.Path)).Select(f => _written[f.Path]).ToList();

    private Manifest MakeManifest(double loweredDb) => new(
        _plan.Session.Name, _plan.Range.Start, _plan.Range.End, _plan.Session.TimecodeScale.At(_plan.Range.Start).ToString(), _plan.Preparation, Written(), loweredDb)
    {
        Stamp = _stamp,
        Gaps = _gaps.All,
    };

    private void Bytes(PlannedFile file, byte[] bytes)
    {
        _report.At(file, 0);
        using var entry = _output.Reserve(file.Path, bytes.Length);
        entry.Write(bytes);
        Keep(file, entry);
    }

    private void Stream(PlannedFile file, Action<Stream> write)
    {
        using var entry = _output.Append(file.Path);
        write(new WatchedStream(entry, written => _report.At(file, Math.Min(1, (double)written / Math.Max(1, file.Bytes)))));
        Keep(file, entry);
    }

    private void Keep(PlannedFile file, PackageEntry entry)
    {
        entry.Finish();
        _written[file.Path] = new ManifestFile(file, entry.Sha256, entry.Bytes);
        _report.At(file, 1);
    }
}
