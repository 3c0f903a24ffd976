using System.Security.Cryptography;
using Lyrotrans.Audio.Containers;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Containers;

/// <summary>A file that may hold picture and sound, whose sound is taken out as WAVE files: one for each rate, with the channels of all streams side by side.</summary>
/// <remarks>docs/formats/sound.md, section 8.</remarks>
public sealed class ContainerFile : IDisposable
{
    private const int BlockBytes = 1 << 20;
    private readonly LocalFile _local;
    private readonly string _format;

    private ContainerFile(LocalFile local, string name, string format)
    {
        (_local, Name, _format) = (local, name, format);
        Facts = ContainerProbe.Read(local.Path, name, format);
    }

    /// <summary>As people call it.</summary>
    public string Name { get; }

    /// <summary>What it says of itself.</summary>
    public ContainerFacts Facts { get; }

    /// <summary>Bytes of all its sound when it is taken out, as far as it says how long it is.</summary>
    public long Bytes => Facts.Sounds.Sum(s => s.Bytes);

    /// <summary>Whether a file of a kind may hold sound that is taken out.</summary>
    public static bool MayBe(ContentKind kind) => kind is ContentKind.Container or ContentKind.Picture;

    /// <param name="file">Where it lies.</param>
    /// <param name="name">As people call it.</param>
    /// <exception cref="BadInputException">It cannot be told what is in it.</exception>
    public static ContainerFile Open(IStoredFile file, string name)
    {
        var format = FormatOf(file);
        var local = file.Local();
        try
        {
            return new ContainerFile(local, name, format);
        }
        catch
        {
            local.Dispose();
            throw;
        }
    }

    /// <summary>What a file may be opened as, as ffmpeg calls it: <c>mxf</c> or <c>mov</c>.</summary>
    public static string FormatOf(IStoredFile file)
    {
        using var stream = file.Open();
        return ContentSniffer.Recognise(stream) == ContentKind.Container ? "mxf" : "mov";
    }

    /// <summary>What one of its sounds is called: after the file, and by its rate where there are several.</summary>
    public string NameOf(ContainerSound sound)
    {
        var stem = Path.GetFileNameWithoutExtension(Name);
        return Facts.Sounds.Count == 1 ? $"{stem}.wav" : $"{stem} {sound.Rate.HeaderHz} Hz.wav";
    }

    /// <summary>A sound of it as a header would say it, before it is taken out.</summary>
    public SoundFileFacts FactsOf(ContainerSound sound) =>
        new("WAVE", sound.Encoding, sound.Channels, sound.Rate.PerSecond.ToString(), sound.Frames ?? 0, Stamp(sound), [], Facts.Umid);

    /// <summary>The hash of a stream's samples alone, as little-endian bytes side by side, and how many frames there are; everything is decoded.</summary>
    /// <exception cref="BadInputException">It cannot be decoded.</exception>
    public (string Sha256, long Frames) Samples(ContainerStream stream)
    {
        var sound = new ContainerSound([stream]);
        using var samples = new ContainerSamples(_local.Path, Name, _format, sound);
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var (frame, frames) = (sound.Channels * sound.Encoding.Bytes(), 0L);
        var block = new byte[BlockBytes / frame * frame];
        for (int read; (read = samples.Read(block)) > 0; frames += read)
        {
            hash.AppendData(block, 0, read * frame);
        }

        return (Convert.ToHexStringLower(hash.GetHashAndReset()), frames);
    }

    /// <summary>Writes one of its sounds as a WAVE file.</summary>
    /// <param name="sound">One of its own.</param>
    /// <param name="target">Where to.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <returns>What is to be said of it.</returns>
    /// <exception cref="BadInputException">It cannot be decoded.</exception>
    public IReadOnlyList<Finding> Write(ContainerSound sound, string target, CancellationToken stop)
    {
        using var samples = new ContainerSamples(_local.Path, Name, _format, sound);
        long frames = 0;
        using (var output = new FileStream(target, FileMode.Create, FileAccess.ReadWrite))
        {
            var head = Head(sound, sound.Frames ?? 0);
            output.Write(head);
            var block = new byte[BlockBytes / (sound.Channels * sound.Encoding.Bytes()) * sound.Channels * sound.Encoding.Bytes()];
            for (int read; (read = samples.Read(block)) > 0; frames += read)
            {
                stop.ThrowIfCancellationRequested();
                output.Write(block, 0, read * sound.Channels * sound.Encoding.Bytes());
            }

            if ((frames * sound.Channels * sound.Encoding.Bytes() & 1) == 1)
            {
                output.WriteByte(0);
            }

            Rehead(output, head.Length, Head(sound, frames));
        }

        var lossy = sound.Streams.Where(s => s.IsLossy).Select(s => s.Codec).Distinct().ToList();
        return
        [
            .. lossy.Count > 0 ? [new Finding(SoundFileCodes.Lossy, string.Empty, $"Its sound was coded with loss ({string.Join(", ", lossy)}); it is fit for listening, not for going on.")] : Array.Empty<Finding>(),
            .. samples.Missing > 0 ? [new Finding(ContainerCodes.CutShort, string.Empty, $"{Digits.Grouped(samples.Missing)} of its {Digits.Grouped(sound.Frames ?? 0)} samples are not there and are silence: it was cut short; ask for the file again.")] : Array.Empty<Finding>(),
        ];
    }

    public void Dispose() => _local.Dispose();

    // Of a file that does not say how long it is the head is known at the end, and longer where 32-bit sizes do not reach.
    private static void Rehead(FileStream file, int before, byte[] head)
    {
        if (head.Length == before)
        {
            file.Position = 0;
            file.Write(head);
            return;
        }

        var moved = file.Name + ".part";
        using (var output = File.Create(moved))
        {
            output.Write(head);
            file.Position = before;
            file.CopyTo(output, BlockBytes);
        }

        File.Move(moved, file.Name, overwrite: true);
    }

    private long? Stamp(ContainerSound sound) => Facts.StartSeconds is { } start ? sound.Rate.SamplesIn(start).RoundToEven() : null;

    private byte[] Head(ContainerSound sound, long frames) => WaveWriter.Head(
        new PcmLayout(sound.Encoding, false, sound.Channels, sound.Rate, 0, frames), Stamp(sound) is { } stamp ? new BroadcastExtension(Path.GetFileName(Name), "Lyrotrans", stamp) : null);
}
