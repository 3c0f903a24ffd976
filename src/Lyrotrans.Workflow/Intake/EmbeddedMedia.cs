using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Intake;

/// <summary>The media that a document of clips holds in itself, to be taken out each as a sound file of its own, by streaming.</summary>
public sealed class EmbeddedMedia : IDisposable
{
    private readonly Stream _stream;
    private readonly ISessionDocument _document;
    private readonly List<(DocumentMedia Media, List<string> Names)> _media = [];

    private EmbeddedMedia(Stream stream, string name)
    {
        _stream = stream;
        _document = SessionDocuments.Open(stream, name);
        var byId = new Dictionary<string, List<string>>();
        foreach (var (composition, media) in _document.Compositions.SelectMany((c, i) => _document.ReadSession(c).Media.Values.Where(m => m.IsEmbedded).Select(m => (i == 0 ? null : c, m))))
        {
            if (!byId.TryGetValue(media.Id, out var names))
            {
                _media.Add((media, byId[media.Id] = names = []));
            }

            names.Add(NameOf(name, composition, media.FileName));
        }

        Bytes = BytesOf(name);
    }

    /// <summary>Of all that it holds; never more than the document's own length.</summary>
    public long Bytes { get; }

    /// <summary>What a medium inside a file is called beside it.</summary>
    /// <param name="document">The file that holds it.</param>
    /// <param name="composition">The composition that refers to it; null for the top one.</param>
    /// <param name="media">Its own name.</param>
    public static string NameOf(string document, string? composition, string media) => $"{FolderOf(document)}{(composition is null ? string.Empty : $"{composition.Replace('/', '_')}/")}{media}";

    /// <summary>The folder, with a <c>/</c> at its end, that everything inside a file comes to lie in.</summary>
    public static string FolderOf(string document) => MediaNames.FolderInside(document);

    /// <param name="file">The document.</param>
    /// <param name="name">As people call it.</param>
    /// <exception cref="BadInputException">It cannot be read, or says that its media are more than it has bytes.</exception>
    public static EmbeddedMedia Open(IStoredFile file, string name)
    {
        var stream = file.Open();
        try
        {
            return new EmbeddedMedia(stream, name);
        }
        catch
        {
            stream.Dispose();
            throw;
        }
    }

    /// <summary>Writes each medium once, however many compositions refer to it.</summary>
    /// <param name="folder">Gets the files.</param>
    /// <param name="stop">Stops between two media.</param>
    /// <param name="wanted">Ids of those that are wanted; null is all.</param>
    /// <exception cref="BadInputException">One cannot be read.</exception>
    public IEnumerable<EmbeddedMedium> Extract(string folder, CancellationToken stop, IReadOnlySet<string>? wanted = null)
    {
        foreach (var (media, names) in _media.Where(m => wanted?.Contains(m.Media.Id) ?? true))
        {
            stop.ThrowIfCancellationRequested();
            var target = Path.Combine(folder, Guid.NewGuid().ToString("N"));
            if (TryWrite(media, target))
            {
                yield return new EmbeddedMedium(media, names, target);
            }
        }
    }

    public void Dispose() => _stream.Dispose();

    // Media that lie over each other would be written again and again.
    private long BytesOf(string name)
    {
        var bytes = 0L;
        foreach (var (media, _) in _media)
        {
            using var essence = _document.OpenEssence(media.Id);
            bytes += essence?.Length ?? 0;
            if (bytes > _stream.Length)
            {
                throw new BadInputException(IntakeCodes.MediaShared, name, $"medium \"{media.FileName}\"", "Up to here its media are longer than the file itself: they lie over each other.", "Check where the file came from.");
            }
        }

        return bytes;
    }

    private bool TryWrite(DocumentMedia media, string target)
    {
        using var essence = _document.OpenEssence(media.Id);
        if (essence is null)
        {
            return false;
        }

        try
        {
            using var output = File.Create(target);
            Write(media, essence, output);
            return true;
        }
        catch
        {
            File.Delete(target);
            throw;
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
