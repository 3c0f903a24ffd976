using System.Collections.Concurrent;
using Lyrotrans.Audio.Analysis;
using Lyrotrans.Audio.Decoding;
using Lyrotrans.Audio.Files;
using Lyrotrans.Audio.Instruments;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Flac;
using Lyrotrans.Formats.Ogg;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Build;

/// <summary>The sound files of a build, and their copies to listen to, several at once. A sound is made once for a file and its copy.</summary>
internal sealed class SoundFiles(
    DeliveryPlan plan, IPackageOutput output, IMediaOpener opener, IMediaFiles files, DateTimeOffset stamp, BuildReport report, Func<PlannedFile, double, IPrintWatch?>? watch, int threads, CancellationToken stop) : IDisposable
{
    // Room to spare below full scale, so that rounding does not reach it.
    private const double LoweredToDb = -0.1;
    private readonly NoteSoundFiles _notes = new(new SoundFontSounds(), files.Scratch);
    private readonly Preparation _preparation = plan.Preparation;

    private readonly ConcurrentDictionary<string, SoundLevels> _levels = [];

    /// <summary>What was measured of the files, where a table of it goes along; by their paths.</summary>
    public IReadOnlyDictionary<string, SoundLevels> Levels => _levels;

    private Printing Printing => field ??= new Printing(plan, opener, _notes);

    public void Dispose() => _notes.Dispose();

    /// <summary>Writes them all.</summary>
    /// <returns>By how many dB they were lowered; 0 or below.</returns>
    public double Write(Dictionary<string, ManifestFile> written)
    {
        var sounds = plan.Files.Where(f => f.IsSound).ToList();
        var copies = plan.Files.Where(f => f.Kind is PlannedKind.ListeningCopy or PlannedKind.SameSound).ToLookup(f => f.Of!);
        using var returns = Printing.ShareReturns(sounds, files.Scratch, stop);
        var lowered = _preparation.Overs == OversPolicy.Lower && sounds.Exists(f => !f.Made.Encoding.IsFloat()) ? Lowered(sounds) : 0;
        var entries = sounds.Select(f => IsCoded(f) ? null : output.Reserve(f.Path, SoundLayout.Of(plan, f, stamp).FileBytes)).ToList();
        var scratch = new Dictionary<string, string>();
        try
        {
            foreach (var file in sounds.Where(IsCoded).Concat(copies.SelectMany(c => c)))
            {
                Directory.CreateDirectory(files.Scratch);
                scratch[file.Path] = Path.Combine(files.Scratch, $"{Guid.NewGuid():N}{Path.GetExtension(file.Path)}");
            }

            // Longest work first, so that no processor is left with it at the end.
            var order = Enumerable.Range(0, sounds.Count).OrderBy(i => sounds[i].IsMix ? 0 : 1).ToList();
            Each(order.Count, k =>
            {
                var file = sounds[order[k]];
                Make(file, entries[order[k]], [.. copies[file.Path]], scratch, lowered);
            });
            Keep(sounds, entries, copies.SelectMany(c => c), scratch, written);
        }
        finally
        {
            foreach (var path in scratch.Values)
            {
                File.Delete(path);
            }

            entries.ForEach(e => e?.Dispose());
        }

        return lowered;
    }

    private void Keep(List<PlannedFile> sounds, List<PackageEntry?> entries, IEnumerable<PlannedFile> copies, Dictionary<string, string> scratch, Dictionary<string, ManifestFile> written)
    {
        for (var i = 0; i < sounds.Count; i++)
        {
            if (entries[i] is { } entry)
            {
                written[sounds[i].Path] = new ManifestFile(sounds[i], entry.Sha256, entry.Bytes);
            }
        }

        foreach (var file in sounds.Where(f => scratch.ContainsKey(f.Path)).Concat(copies))
        {
            using var input = File.OpenRead(scratch[file.Path]);
            using var entry = output.Reserve(file.Path, input.Length);
            input.CopyTo(entry, 1 << 18);
            entry.Finish();
            written[file.Path] = new ManifestFile(file, entry.Sha256, entry.Bytes);
            report.At(file, 1);
        }
    }

    /// <summary>What all files are lowered by so that the loudest stays below full scale.</summary>
    private double Lowered(List<PlannedFile> sounds)
    {
        var peaks = new double[sounds.Count];
        Each(sounds.Count, i =>
        {
            using var print = Printing.Open(sounds[i]);
            var samples = Printing.Planar(sounds[i].Channels);
            Blocks(sounds[i], (at, count) =>
            {
                print.Read(at, count, samples);
                foreach (var channel in samples)
                {
                    foreach (var value in channel.AsSpan(0, count))
                    {
                        peaks[i] = Math.Max(peaks[i], Math.Abs(value));
                    }
                }
            });
        });
        var peak = Decibels.FromRatio(peaks.DefaultIfEmpty(0).Max());

        // In whole tenths of a dB, so that people can type it.
        return peak <= 0 ? 0 : Math.Floor((LoweredToDb - peak) * 10) / 10;
    }

    private static bool IsCoded(PlannedFile file) => file.Made.Container == SoundContainer.Flac;

    private void Make(PlannedFile file, PackageEntry? entry, PlannedFile[] others, Dictionary<string, string> scratch, double lowered)
    {
        using var print = Printing.Open(file, lowered);
        var rule = Printing.RuleOf(file, lowered);
        var beside = others.Select(o => (ISoundOutput)(o.Kind == PlannedKind.ListeningCopy ? new CodedOutput(Coded(o, scratch[o.Path], Listened, Dither.None), o.Channels, () => Finish(o, scratch[o.Path]))
            : IsCoded(o) ? new CodedOutput(Coded(o, scratch[o.Path], CodedForm.Flac, rule.Dither), o.Channels, () => Tag(o, scratch[o.Path]))
            : new LinearOutput(scratch[o.Path], SoundLayout.Of(plan, o, stamp), rule.Dither))).ToList();
        using var watched = watch?.Invoke(file, lowered);
        try
        {
            if (entry is null)
            {
                WriteCoded(file, scratch[file.Path], print, rule, beside, watched);
            }
            else
            {
                WriteLinear(file, entry, print, rule, beside, watched);
            }

            watched?.Finish();
            beside.ForEach(b => b.Finish());
        }
        finally
        {
            beside.ForEach(b => b.Dispose());
        }
    }

    private CodedForm Listened => _preparation.Mix.CopyForm == ListeningForm.Mp3 ? CodedForm.Mp3 : CodedForm.Ogg;

    private void WriteCoded(PlannedFile file, string path, IPrint print, PrintRule rule, List<ISoundOutput> beside, IPrintWatch? watched)
    {
        using (var flac = Coded(file, path, CodedForm.Flac, rule.Dither))
        {
            var samples = Printing.Planar(file.Channels);
            Blocks(file, (at, count) =>
            {
                print.Read(at, count, samples);
                flac.Write(samples, count);
                beside.ForEach(b => b.Write(samples, count));
                watched?.Take(at, count, samples);
            });
            flac.Finish();
        }

        Tag(file, path);
        MeasureCoded(file, path);
    }

    private void WriteLinear(PlannedFile file, PackageEntry entry, IPrint print, PrintRule rule, List<ISoundOutput> beside, IPrintWatch? watched)
    {
        var sound = SoundLayout.Of(plan, file, stamp);
        entry.Write(sound.Head);
        var made = new PrintBytes(print, sound.Layout, rule);
        var bytes = new byte[Printing.Block * sound.Layout.BytesPerFrame];
        using var measure = _preparation.Mix.Levels ? new SoundMeasure(file.Channels, file.Frames, file.Made.Rate) : null;
        var written = measure is null ? [] : Printing.Planar(file.Channels);
        Blocks(file, (at, count) =>
        {
            var piece = bytes.AsSpan(0, count * sound.Layout.BytesPerFrame);
            var computed = beside.Count > 0 || (watched is not null && !made.IsCopied(at, count));
            made.Fill(at, count, piece, computed);
            entry.Write(piece);
            if (measure is not null)
            {
                PcmDecoder.Decode(piece, sound.Layout.Encoding, sound.Layout.BigEndian, file.Channels, written, 0);
                measure.Take(written, count);
            }

            beside.ForEach(b => b.Write(made.Samples, count));
            watched?.Take(at, count, computed ? made.Samples : null);
        });
        if ((sound.Layout.DataBytes & 1) == 1)
        {
            entry.Write([0]);
        }

        entry.Finish();
        if (measure is not null)
        {
            _levels[file.Path] = measure.Result().Levels;
        }
    }

    private void Finish(PlannedFile copy, string path)
    {
        Tag(copy, path);
        if (Listened == CodedForm.Ogg)
        {
            OggSerial.Settle(path);
        }
    }

    // The library that codes has no place for them.
    private void Tag(PlannedFile file, string path)
    {
        if (SoundTags.Of(plan, file) is not { Any: true } tags)
        {
            return;
        }

        KeyValuePair<string, string>[] comments = [.. new (string Name, string? Text)[] { (FlacComments.Tempo, tags.TempoText), (FlacComments.Key, tags.Key) }.Where(t => t.Text is not null).Select(t => KeyValuePair.Create(t.Name, t.Text!))];
        switch (Path.GetExtension(file.Path))
        {
            case ".mp3":
                Mp3Tags.Add(path, TagTexts.Of(tags.WholeTempo, tags.Key));
                break;
            case ".ogg":
                OggComments.Add(path, comments);
                break;
            default:
                FlacComments.Add(path, comments);
                break;
        }
    }

    private void MeasureCoded(PlannedFile file, string path)
    {
        if (_preparation.Mix.Levels)
        {
            using var coded = CodedSource.Open(path, file.Path);
            _levels[file.Path] = SoundAnalysis.Measure(coded, stop).Levels;
        }
    }

    private CodedWriter Coded(PlannedFile file, string path, CodedForm form, Dither dither)
    {
        var start = file.Made.Rate.Convert(file.Span.Start, plan.Session.Rate);
        var comment = $"Starts at {plan.Session.TimecodeScale.At(start)}, {PackageBuilder.TimeReference(plan, file)} samples since midnight";
        return new CodedWriter(path, form, file.Made.Rate, file.Channels, file.Made.Encoding, dither, comment, (int?)_preparation.Mix.CopyRate);
    }

    private void Blocks(PlannedFile file, Action<long, int> make)
    {
        for (long at = 0; at < file.Frames; at += Printing.Block)
        {
            stop.ThrowIfCancellationRequested();
            make(at, (int)Math.Min(Printing.Block, file.Frames - at));
            report.At(file, (double)at / file.Frames);
        }

        report.At(file, 1);
    }

    private void Each(int count, Action<int> work) => AtOnce.Each(count, work, stop, threads);
}
