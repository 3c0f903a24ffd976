using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Takes the media out of a document of clips that holds them, each as a sound file of its own, by streaming.</summary>
public static class EmbeddedMedia
{
    /// <summary>What a medium inside a file is called beside it.</summary>
    /// <param name="document">The file that holds it.</param>
    /// <param name="composition">The composition that refers to it; null for the top one.</param>
    /// <param name="media">Its own name.</param>
    public static string NameOf(string document, string? composition, string media) => $"{FolderOf(document)}{(composition is null ? string.Empty : $"{composition.Replace('/', '_')}/")}{media}";

    /// <summary>The folder, with a <c>/</c> at its end, that everything inside a file comes to lie in.</summary>
    public static string FolderOf(string document) => $"{document} media/";

    /// <param name="file">The document.</param>
    /// <param name="name">As people call it.</param>
    /// <param name="folder">Gets the files.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <returns>Name and path of each.</returns>
    /// <exception cref="BadInputException">It cannot be read.</exception>
    public static IEnumerable<(DocumentMedia Media, string Name, string Path)> Extract(IStoredFile file, string name, string folder, CancellationToken stop)
    {
        using var stream = file.Open();
        var document = SessionDocuments.Open(stream, name);
        var compositions = document.Compositions;
        foreach (var (composition, media) in compositions.SelectMany((c, i) => document.ReadSession(c).Media.Values.Where(m => m.IsEmbedded).Select(m => (i == 0 ? null : c, m))))
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

            yield return (media, NameOf(name, composition, media.FileName), target);
        }
    }

    // Plain samples get the header that they never had; a whole file goes as it is.
    private static void Write(DocumentMedia media, Stream essence, Stream output)
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
