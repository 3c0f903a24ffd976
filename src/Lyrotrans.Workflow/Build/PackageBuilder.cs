using System.IO.Compression;
using System.Text;
using Lyrotrans.Audio.Click;
using Lyrotrans.Audio.Files;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Build;

/// <summary>
/// Writes a delivery plan's files into one zip: stored, zip64 where needed, streamed. The same plan and stamp give the same
/// bytes. The stream is whole only when this returns; on any error the caller throws it away.
/// </summary>
public sealed class PackageBuilder
{
    private readonly DeliveryPlan _plan;
    private readonly ZipArchive _zip;
    private readonly MediaOpener _opener;
    private readonly IMediaFiles _files;
    private readonly DateTimeOffset _stamp;
    private readonly Action<WorkProgress> _report;
    private readonly CancellationToken _stop;
    private readonly List<ManifestFile> _written = [];
    private readonly Dictionary<string, Track> _tracks;
    private readonly Dictionary<string, TrackChoice> _choices;
    private long _doneBytes;

    private PackageBuilder(DeliveryPlan plan, ZipArchive zip, MediaOpener opener, IMediaFiles files, DateTimeOffset stamp, Action<WorkProgress> report, CancellationToken stop)
    {
        _plan = plan;
        _zip = zip;
        _opener = opener;
        _files = files;
        _stamp = stamp;
        _report = report;
        _stop = stop;
        _tracks = plan.Session.Tracks.ToDictionary(t => t.Id);
        _choices = plan.Preparation.Tracks.ToDictionary(c => c.TrackId);
    }

    /// <param name="plan">What to write.</param>
    /// <param name="files">Where the media lie.</param>
    /// <param name="output">Gets the zip.</param>
    /// <param name="stamp">The date of every entry and of the sheet.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    /// <exception cref="IOException">The disk is full, media cannot be read, or the plan cannot be built as it is.</exception>
    public static Manifest Build(
        DeliveryPlan plan, IMediaFiles files, Stream output, DateTimeOffset stamp, Action<WorkProgress> report, CancellationToken stop)
    {
        if (plan.Problem is { } problem)
        {
            throw new IOException(problem);
        }

        using var opener = new MediaOpener(files, plan.Session.Rate, stop);
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        return new PackageBuilder(plan, zip, opener, files, stamp, report, stop).Write();
    }

    private Manifest Write()
    {
        foreach (var file in _plan.Files)
        {
            _stop.ThrowIfCancellationRequested();
            switch (file.Kind)
            {
                case PlannedKind.FromZero:
                    WritePrint(file);
                    break;
                case PlannedKind.Click:
                    WriteClick(file);
                    break;
                case PlannedKind.ClipFile:
                    Report(file, 0);
                    WriteEntry(file, stream => ClipsFile.Write(_plan, file.Part, _opener, _files, Watched(file, stream), _stop));
                    break;
                case PlannedKind.ClipMedia:
                    Report(file, 0);
                    WriteEntry(file, stream => ClipsFile.Sound(_plan, file.MediaId!, _opener, _files, _stop).Write(Watched(file, stream)));
                    break;
                case PlannedKind.Midi:
                    WriteBytes(file, SmfWriter.Write(MeantMidi.Of(_plan, file)));
                    break;
                case PlannedKind.SessionDocument:
                    WriteBytes(file, SessionDocumentWriter.Write(_plan.DeliveredSession()));
                    break;
                case PlannedKind.MarkerList:
                    WriteBytes(file, MarkerListWriter.Write(_plan.Session));
                    break;
                case PlannedKind.SessionSheet:
                    WriteBytes(file, Encoding.UTF8.GetBytes(SessionSheet.Write(_plan, _written, _stamp)));
                    break;
                case PlannedKind.Manifest:
                    WriteBytes(file, MakeManifest().ToJson());
                    break;
                default:
                    WriteBytes(file, Encoding.UTF8.GetBytes(string.Concat(_written.Select(f => $"{f.Sha256}  {f.Plan.Path[(_plan.Root.Length + 1)..]}\n"))));
                    break;
            }
        }

        _report(new WorkProgress(1, "finished"));
        return MakeManifest();
    }

    /// <summary>The time stamp that every from-zero file of a plan carries, in samples since midnight; a day wraps.</summary>
    public static long TimeReference(DeliveryPlan plan) => TimeReference(plan, plan.Range.Start);

    /// <summary>The time stamp of a session sample, in samples since midnight; a day wraps.</summary>
    public static long TimeReference(DeliveryPlan plan, long sample)
    {
        var session = plan.Session;
        var day = session.Rate.SamplesIn(new Core.Time.Rational(session.FrameRate.FramesPerDay, 1) / session.FrameRate.PerSecond).RoundToEven();
        var reference = session.TimecodeScale.TimeReference(sample, session.Rate) % day;
        return reference < 0 ? reference + day : reference;
    }

    private Manifest MakeManifest() => new(
        _plan.Session.Name, _plan.Range.Start, _plan.Range.End, _plan.Session.TimecodeScale.At(_plan.Range.Start).ToString(), _plan.Preparation, [.. _written]);

    private void WriteBytes(PlannedFile file, byte[] bytes)
    {
        Report(file, 0);
        WriteEntry(file, stream => stream.Write(bytes));
    }

    private void WritePrint(PlannedFile file)
    {
        var track = _tracks[file.TrackId!];
        using var print = new PrintedTrack(_plan.Session, track, file.Channels, _plan.Range, _opener);
        WriteSound(new SoundToWrite(
            file, track.Name, _plan.Range.Start, PrintRule.Of(_plan.Session, track, _choices[track.Id], _plan.Preparation.Encoding).Dither, print.Read));
    }

    private void WriteClick(PlannedFile file)
    {
        var click = new ClickRender(
            ClickTrack.Beats(_plan.Session, _plan.Preparation.Click, _plan.ClickRange), _plan.ClickRange, _plan.Preparation.Click.LevelDb, _plan.Session.Rate);
        WriteSound(new SoundToWrite(
            file, "Click", _plan.ClickRange.Start, PrintRule.OfClick(_plan.Preparation.Encoding).Dither, (at, count, into) => click.Read(at, count, into[0])));
    }

    private void WriteSound(SoundToWrite sound)
    {
        if (_plan.Preparation.Container == SoundContainer.Flac)
        {
            WriteFlac(sound);
        }
        else
        {
            WriteEntry(sound.File, stream => WriteWave(sound, stream));
        }
    }

    private void WriteWave(SoundToWrite sound, Stream stream)
    {
        var (file, encoding) = (sound.File, _plan.Preparation.Encoding);
        var layout = new PcmLayout(encoding, false, file.Channels, _plan.Session.Rate, 0, file.Frames);
        var bext = new BroadcastExtension(
            $"{_plan.Session.Name}: {sound.Name}", "Lyrotrans", TimeReference(_plan, sound.Start),
            _stamp.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture), _stamp.ToString("HH:mm:ss", System.Globalization.CultureInfo.InvariantCulture));
        stream.Write(WaveWriter.Head(layout, bext));
        var encoder = new PcmEncoder(encoding, sound.Dither);
        var bytes = new byte[PrintedTrack.Block * layout.BytesPerFrame];
        Blocks(sound, (samples, count) => stream.Write(bytes.AsSpan(0, encoder.Encode(samples, file.Channels, count, bytes))));
        if ((layout.DataBytes & 1) == 1)
        {
            stream.WriteByte(0);
        }
    }

    private void WriteFlac(SoundToWrite sound)
    {
        // The codec goes back to write its header, which a stream into a zip cannot: by way of a scratch file.
        Directory.CreateDirectory(_files.Scratch);
        var scratch = Path.Combine(_files.Scratch, $"{Guid.NewGuid():N}.flac");
        try
        {
            var comment = $"Starts at {_plan.Session.TimecodeScale.At(sound.Start)}, {TimeReference(_plan, sound.Start)} samples since midnight";
            using (var flac = new FlacWriter(scratch, _plan.Session.Rate, sound.File.Channels, _plan.Preparation.Encoding, sound.Dither, comment))
            {
                Blocks(sound, flac.Write);
                flac.Finish();
            }

            WriteEntry(sound.File, stream =>
            {
                using var input = File.OpenRead(scratch);
                input.CopyTo(stream, 1 << 16);
            });
        }
        finally
        {
            File.Delete(scratch);
        }
    }

    private void Blocks(SoundToWrite sound, Action<double[][], int> write)
    {
        var file = sound.File;
        var samples = PrintedTrack.Planar(file.Channels);
        for (long at = 0; at < file.Frames; at += PrintedTrack.Block)
        {
            _stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(PrintedTrack.Block, file.Frames - at);
            sound.Read(at, count, samples);
            write(samples, count);
            Report(file, (double)at / file.Frames);
        }
    }

    private void WriteEntry(PlannedFile file, Action<Stream> write)
    {
        var entry = _zip.CreateEntry(file.Path, CompressionLevel.NoCompression);
        entry.LastWriteTime = _stamp;
        entry.ExternalAttributes = Convert.ToInt32("100644", 8) << 16;
        using var stream = entry.Open();
        using var hashing = new HashingStream(stream);
        write(hashing);
        _written.Add(new ManifestFile(file, hashing.Sha256(), hashing.Length));
        _doneBytes += file.Bytes;
    }

    /// <summary>Tells how far a file is as its bytes pass.</summary>
    private WatchedStream Watched(PlannedFile file, Stream stream) => new(stream, written => Report(file, Math.Min(1, (double)written / Math.Max(1, file.Bytes))));

    private void Report(PlannedFile file, double part) =>
        _report(new WorkProgress((_doneBytes + (file.Bytes * part)) / Math.Max(1, _plan.Bytes), $"writing {Path.GetFileName(file.Path)}"));

    /// <summary>A sound file under way: what it is called inside, its first session sample, and where its samples come from.</summary>
    private sealed record SoundToWrite(PlannedFile File, string Name, long Start, bool Dither, Action<long, int, double[][]> Read);
}
