using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Aaf;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Takes the media out of an AAF file that holds them, each as a sound file of its own, by streaming.</summary>
public static class EmbeddedMedia
{
    /// <summary>What a medium inside a file is called beside it.</summary>
    public static string NameOf(string document, string media) => $"{document} media/{media}";

    /// <param name="path">The AAF file on disk.</param>
    /// <param name="name">As people call it.</param>
    /// <param name="folder">Gets the files.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <returns>Name and path of each.</returns>
    /// <exception cref="BadInputException">It cannot be read.</exception>
    public static IEnumerable<(EditMedia Media, string Name, string Path)> Extract(string path, string name, string folder, CancellationToken stop)
    {
        using var stream = File.OpenRead(path);
        var document = AafDocument.Open(stream, name);
        foreach (var media in document.Read().Media.Values.Where(m => m.IsEmbedded))
        {
            stop.ThrowIfCancellationRequested();
            if (document.OpenEssence(media.Id) is not { } essence)
            {
                continue;
            }

            var target = Path.Combine(folder, Guid.NewGuid().ToString("N"));
            using (essence)
            using (var output = File.Create(target))
            {
                Write(media, essence, output);
            }

            yield return (media, NameOf(name, media.FileName), target);
        }
    }

    // Plain samples get the header that they never had; a whole file goes as it is.
    private static void Write(EditMedia media, Stream essence, Stream output)
    {
        if (media.How == "embedded-pcm")
        {
            var encoding = media.IsFloat ? SampleEncoding.Float32 : media.Bits switch { <= 8 => SampleEncoding.Unsigned8, <= 16 => SampleEncoding.Integer16, <= 24 => SampleEncoding.Integer24, _ => SampleEncoding.Integer32 };
            output.Write(WaveWriter.Head(new PcmLayout(encoding, false, media.Channels, media.Rate, 0, essence.Length / Math.Max(1, media.Channels * encoding.Bytes())), null));
        }

        essence.CopyTo(output, 1 << 17);
        if (media.How == "embedded-pcm" && (essence.Length & 1) == 1)
        {
            output.WriteByte(0);
        }
    }
}
