using Lyrotrans.Audio.Native;
using System.Text.Json.Nodes;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sound;
using Lyrotrans.Files;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Workflow.Containers;

namespace Lyrotrans.Workflow.Inspect;

/// <summary>Linked sound that lies inside a file with picture, as JSON with fixed keys.</summary>
internal static class ContainerInspection
{
    private const int Group = 8;

    /// <summary>What lies beside a document under a medium's name, or under its identifier, and is such a file; null where nothing is.</summary>
    /// <param name="media">What the document says.</param>
    /// <param name="folder">Where the document lies.</param>
    public static string? PathOf(DocumentMedia media, string folder)
    {
        var named = new[] { media.FileName, media.LocatorName }.OfType<string>().Select(n => Path.Combine(folder, n)).FirstOrDefault(p => File.Exists(p) && IsContainer(p));
        var forms = MobId.Forms(media.Id).ToHashSet();
        return named ?? Directory.EnumerateFiles(folder).Order(StringComparer.Ordinal).FirstOrDefault(p => PlainFiles.Is(p) && IsContainer(p) && UmidOf(p) is { } umid && forms.Contains(umid));
    }

    /// <summary>What is in it.</summary>
    /// <param name="media">What the document says.</param>
    /// <param name="path">What <see cref="PathOf"/> found.</param>
    public static JsonObject Of(DocumentMedia media, string path)
    {
        using var file = ContainerFile.Open(new DiskFile(path), Path.GetFileName(path));
        var sound = file.Facts.Sounds[0];
        var json = new JsonObject
        {
            ["name"] = media.FileName,
            ["rate"] = EditInspection.Number(sound.Rate.PerSecond),
            ["channels"] = sound.Channels,
            ["bits"] = sound.Encoding.Bits(),
            ["float"] = sound.Encoding.IsFloat(),
            ["length"] = sound.Frames,
            ["timeReference"] = file.FactsOf(sound).TimeReference,
            ["how"] = media.How,
            ["url"] = media.Url,
            ["umid"] = file.Facts.Umid is { } umid ? $"urn:smpte:umid:{string.Join('.', umid.Chunk(Group).Select(c => new string(c)))}" : null,
            ["file"] = Path.GetFileName(path),
        };
        var streams = file.Facts.Streams.Select((s, i) => (Number: i, s.Channels, Samples: file.Samples(s))).ToList();
        if (streams is [var only])
        {
            (json["stream"], json["sampleDataSha256"], json["decodedLength"]) = (0, only.Samples.Sha256, only.Samples.Frames);
        }
        else
        {
            json["streams"] = new JsonArray([.. streams.Select(s => (JsonNode)new JsonObject { ["stream"] = s.Number, ["channels"] = s.Channels, ["sampleDataSha256"] = s.Samples.Sha256, ["decodedLength"] = s.Samples.Frames })]);
        }

        return json;
    }

    private static bool IsContainer(string path)
    {
        using var stream = File.OpenRead(path);
        return ContainerFile.MayBe(ContentSniffer.Recognise(stream));
    }

    private static string? UmidOf(string path)
    {
        try
        {
            using var file = ContainerFile.Open(new DiskFile(path), Path.GetFileName(path));
            return file.Facts.Streams.Count > 0 ? file.Facts.Umid : null;
        }
        catch (BadInputException)
        {
            return null;
        }
    }
}
