using System.IO.Compression;
using Lyrotrans.Audio.Files;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Fuzz;

/// <summary>Every reader of files from outside: the formats of clips as the registry lists them, and what is no format of clips.</summary>
internal static class FuzzTargets
{
    private const int LargestSeed = 300_000;
    private const long ZipRoom = 1 << 20;

    public static IReadOnlyList<FuzzTarget> All { get; } =
    [
        .. SessionFormats.OfClips.Select(f => new FuzzTarget(f.Extension[1..], folder => Files(folder, f.Extension).SelectMany(CompoundSeeds.Of), bytes => DocumentTarget.Read(bytes, f))),
        new("wav", folder => Files(folder, ".wav").Append(Wave()), Sound),
        new("aiff", _ => [Aiff(16), Aiff(24)], Sound),
        new("flac", _ => [Coded(CodedForm.Flac, SampleEncoding.Integer16), Coded(CodedForm.Flac, SampleEncoding.Integer24)], Decoded),
        new("ogg", _ => [Coded(CodedForm.Ogg, SampleEncoding.Float32)], Decoded),
        new("mp3", _ => [Coded(CodedForm.Mp3, SampleEncoding.Float32)], Decoded),
        new("mid", folder => Files(folder, ".mid"), Midi),
        new("session", folder => Files(folder, ".aaf").Concat(Files(folder, ".omf")).Select(Document).OfType<byte[]>(), Session),
        new("preparation", _ => [PreparationDocument.Write(new Preparation { Clips = new ClipChoices(SessionFormats.Usual), Tracks = [new TrackChoice("t", Treatment.PrintDry)] })], Prepared),
        new("csv", _ => [MarkerListWriter.Write(Marked()), "text;start bars;end seconds\n=x;1.1.0;2\n"u8.ToArray()], bytes => MarkerListReader.Read(new MemoryStream(bytes), "fuzz.csv")),
        new("zip", _ => [Zip(CompressionLevel.NoCompression), Zip(CompressionLevel.Optimal)], Unpacked),
    ];

    private static IEnumerable<byte[]> Files(string folder, string extension) =>
        Directory.EnumerateFiles(folder, $"*{extension}", SearchOption.AllDirectories).Order(StringComparer.Ordinal).Select(File.ReadAllBytes).Where(f => f.Length < 20 * LargestSeed);

    private static byte[] Wave()
    {
        var layout = new PcmLayout(SampleEncoding.Float32, false, 3, SampleRate.Hz48000, 0, 10);
        return [.. WaveWriter.Head(layout, new BroadcastExtension("d", "o", 5), [new CuePoint(1, 2, "c")]), .. new byte[layout.DataBytes]];
    }

    private static byte[] Aiff(int bits)
    {
        var layout = new PcmLayout(SampleEncodings.FromBits(bits, isFloat: false)!.Value, true, 2, SampleRate.Hz44100, 0, 10);
        return [.. AiffWriter.Head(layout), .. new byte[layout.DataBytes]];
    }

    private static byte[] Coded(CodedForm form, SampleEncoding encoding)
    {
        const int Frames = 9000;
        var path = Path.GetTempFileName();
        try
        {
            var dice = new Random(1);
            using (var writer = new CodedWriter(path, form, SampleRate.Hz48000, 2, encoding, Dither.None, "bells"))
            {
                writer.Write([.. Enumerable.Range(0, 2).Select(_ => Enumerable.Range(0, Frames).Select(_ => (dice.NextDouble() - 0.5) / 4).ToArray())], Frames);
                writer.Finish();
            }

            return File.ReadAllBytes(path);
        }
        finally
        {
            File.Delete(path);
        }
    }

    // Through the decoder's process, from the header to the samples, on and off its blocks.
    private static void Decoded(byte[] bytes)
    {
        var path = Path.GetTempFileName();
        try
        {
            File.WriteAllBytes(path, bytes);
            using var file = SoundFile.Open(new DiskFile(path), "fuzz");
            var samples = Enumerable.Range(0, file.Source.Channels).Select(_ => new double[3000]).ToArray();
            foreach (var start in new[] { 0, 3000, 6000, file.Source.Length / 2, file.Source.Length - 1000, file.Source.Length + 5, 100 })
            {
                file.Source.Read(start, 3000, samples);
                Holds(samples.All(channel => channel.All(double.IsFinite)), "A sample is no number.");
            }

            Holds(file.Missing is >= 0 and <= 21_000, $"{file.Missing} sample frames are missing of 21 000.");
        }
        finally
        {
            File.Delete(path);
        }
    }

    private static void Sound(byte[] bytes)
    {
        if (LinearSound.Read(new MemoryStream(bytes), "fuzz") is not { } header)
        {
            throw new BadInputException(SoundCodes.WrongForm, "fuzz", 0, "It begins otherwise.", "None.");
        }

        var layout = header.Layout;
        Holds(layout.Channels > 0 && layout.Frames >= 0 && layout.DataOffset + layout.DataBytes <= bytes.Length, $"{layout} lies beyond {bytes.Length} bytes.");
    }

    private static void Midi(byte[] bytes)
    {
        var file = SmfReader.Read(new MemoryStream(bytes), "fuzz.mid");
        Holds(file.Tracks.All(t => t.Events.Zip(t.Events.Skip(1)).All(e => e.First.Tick <= e.Second.Tick)), "Its events do not ascend.");
        Holds(SmfContents.Of(file).Tracks.SelectMany(t => t.Notes).All(n => n is { Key: >= 0 and <= 127, Channel: >= 1 and <= 16, Length: >= 0 }), "A note is none.");
    }

    private static byte[]? Document(byte[] file)
    {
        using var stream = new MemoryStream(file);
        var head = file.AsSpan(0, Math.Min(512, file.Length));
        try
        {
            var written = SessionFormats.Recognise(head, stream) is { } format ? SessionDocumentWriter.Write(format.Open(stream, "seed").ReadSession().Session) : null;
            return written?.Length < LargestSeed ? written : null;
        }
        catch (BadInputException)
        {
            // Some fixtures are there to be refused.
            return null;
        }
    }

    private static void Session(byte[] bytes)
    {
        var session = SessionDocumentReader.Read(new MemoryStream(bytes), "fuzz.json");
        Holds(SessionDocumentReader.Read(new MemoryStream(SessionDocumentWriter.Write(session)), "kept.json") == session, "It is another session when it is kept.");
    }

    private static void Prepared(byte[] bytes)
    {
        var preparation = PreparationDocument.Read(bytes, "fuzz.json");
        Holds(PreparationDocument.Read(PreparationDocument.Write(preparation), "kept.json") == preparation, "It is another preparation when it is kept.");
    }

    private static Session Marked() => new() { Name = "Orrery Suite", Markers = [new Marker("a", "Lamps down", 5), new Marker("b", "-x", 500_000, 7)] };

    private static byte[] Zip(CompressionLevel level)
    {
        using var output = new MemoryStream();
        using (var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var name in new[] { "in/a.wav", "b.mid", "c/" })
            {
                using var entry = zip.CreateEntry(name, level).Open();
                entry.Write(name.EndsWith('/') ? [] : Wave());
            }
        }

        return output.ToArray();
    }

    private static void Unpacked(byte[] bytes)
    {
        var folder = Directory.CreateTempSubdirectory("fuzz-zip-").FullName;
        try
        {
            var zip = Path.Combine(folder, "a.zip");
            File.WriteAllBytes(zip, bytes);
            var into = Directory.CreateDirectory(Path.Combine(folder, "in")).FullName;
            SafeUnzip.Unpack(zip, "a.zip", into, ZipRoom, CancellationToken.None);
            Holds(Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories).All(f => f == zip || Path.GetDirectoryName(f) == into), "Something was written elsewhere.");
            Holds(Directory.EnumerateFiles(into).Sum(f => new FileInfo(f).Length) <= ZipRoom, "More was written than there is room.");
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static void Holds(bool holds, string otherwise)
    {
        if (!holds)
        {
            throw new InvalidOperationException(otherwise);
        }
    }
}
