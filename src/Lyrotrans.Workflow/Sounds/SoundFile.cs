using Lyrotrans.Audio.Decoding;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.Flac;
using Lyrotrans.Formats.Ogg;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>A sound file on disk, opened by what it is and not by its name.</summary>
public sealed class SoundFile : IDisposable
{
    private readonly CodedSource? _decoder;

    // Of one file; more than this no person set.
    private const int MostMarks = 2000;

    private SoundFile(SoundFileFacts facts, SoundHeader? header, ISampleSource source, CodedSource? decoder = null)
    {
        Facts = facts;
        Header = header;
        Source = source;
        _decoder = decoder;
    }

    /// <summary>What its header says, and what was met in it.</summary>
    public SoundFileFacts Facts { get; }

    /// <summary>The chunks, for WAVE and AIFF.</summary>
    public SoundHeader? Header { get; }

    /// <summary>What a FLAC file says of its sound; null for others.</summary>
    public FlacInfo? Flac { get; private init; }

    /// <summary>Tempo and key that it says of itself, as it says them; null where it does not.</summary>
    public (string? Tempo, string? Key) Tags { get; private init; }

    /// <summary>Sample frames that were asked for so far and could not be decoded; silence was given for them.</summary>
    public long Missing => _decoder?.Missing ?? 0;

    /// <summary>Its samples; closed with the file.</summary>
    public ISampleSource Source { get; }

    /// <param name="file">Where it lies.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">It is no sound file, or cannot be read.</exception>
    public static SoundFile Open(IStoredFile file, string name)
    {
        var stream = file.Open();
        try
        {
            switch (ContentSniffer.Recognise(stream))
            {
                case ContentKind.Wave or ContentKind.Aiff:
                    return Linear(LinearSound.Read(stream, name)!, stream);
                case ContentKind.Empty:
                    throw Empty(name);
                case var kind and (ContentKind.Flac or ContentKind.Ogg or ContentKind.Mp3):
                    var flac = FlacInfo.Read(stream);
                    var comments = kind switch { ContentKind.Ogg => OggComments.Read(stream), ContentKind.Mp3 => Mp3Tags.Read(stream), _ => flac is null ? [] : FlacComments.Read(stream) };
                    stream.Dispose();
                    return Coded(file.Local(), name, kind, flac, comments);
                default:
                    throw new BadInputException(FileCodes.UnknownContent, name, 0, "This is not a sound file that can be read: WAVE, RF64, AIFF, FLAC, Ogg or MP3.", "Check what it is.");
            }
        }
        catch
        {
            stream.Dispose();
            throw;
        }
    }

    /// <summary>A WAVE or AIFF file that is open already; it is closed with this.</summary>
    /// <returns>Null, and the stream still open, where it is another.</returns>
    /// <exception cref="BadInputException">It cannot be read.</exception>
    public static SoundFile? TryOpen(Stream stream, string name) => ContentSniffer.Recognise(stream) is ContentKind.Wave or ContentKind.Aiff ? Linear(LinearSound.Read(stream, name)!, stream) : null;

    /// <summary>The refusal of a file with nothing in it.</summary>
    public static BadInputException Empty(string name) =>
        new(FileCodes.Empty, name, string.Empty, "The file is empty: 0 bytes.", "Its transfer or export failed; ask for it again.");

    public void Dispose() => Source.Dispose();

    private static SoundFile Linear(SoundHeader header, Stream stream)
    {
        var layout = header.Layout;
        var facts = new SoundFileFacts(
            header.Container, layout.Encoding, layout.Channels, layout.Rate.PerSecond.ToString(), layout.Frames,
            header.Broadcast?.TimeReference, [.. header.Findings], header.Umid,
            header.RateWords.Count == 0 ? null : header.RateWords.ToDictionary(w => w.Says, w => w.Rate.PerSecond.ToString()))
        {
            ChannelNames = header.ChannelNames.Count == 0 ? null : [.. header.ChannelNames],
            Marks = MarksOf(header),
        };
        return new SoundFile(facts, header, new PcmSource(stream, layout)) { Tags = TagTexts.In(header) };
    }

    // Cues without a name mark nothing that anybody could call by it.
    private static List<SoundMark>? MarksOf(SoundHeader header)
    {
        var named = header.Cues.Where(c => !string.IsNullOrWhiteSpace(c.Label) && c.Sample >= 0 && c.Sample <= header.Layout.Frames).Take(MostMarks)
            .Select(c => new SoundMark(c.Label.Trim(), c.Sample, Math.Clamp(c.Length, 0, header.Layout.Frames - c.Sample))).ToList();
        return named.Count == 0 ? null : named;
    }

    // The decoder opens files by path; a copy that this needed is closed with it.
    private static SoundFile Coded(LocalFile local, string file, ContentKind kind, FlacInfo? flac, IReadOnlyList<KeyValuePair<string, string>> comments)
    {
        try
        {
            return Coded(CodedSource.Open(local.Path, file), local, kind, flac, comments);
        }
        catch
        {
            local.Dispose();
            throw;
        }
    }

    private static SoundFile Coded(CodedSource source, LocalFile local, ContentKind kind, FlacInfo? flac, IReadOnlyList<KeyValuePair<string, string>> comments)
    {
        string? Said(params string[] names) => comments.Where(c => names.Contains(c.Key, StringComparer.OrdinalIgnoreCase)).Select(c => c.Value).FirstOrDefault();
        var name = kind == ContentKind.Flac ? "FLAC" : kind == ContentKind.Ogg ? "Ogg" : "MP3";
        IReadOnlyList<Finding> findings = kind == ContentKind.Flac ? [] : [new(SoundFileCodes.Lossy, string.Empty, $"{name} is lossy; it is fit for listening, not for going on.")];
        return new SoundFile(
            new SoundFileFacts(name, source.Encoding, source.Channels, source.Rate.PerSecond.ToString(), source.Length, null, findings), null, local.IsCopy ? new CopiedSource(source, local) : source, source)
        {
            Flac = flac,
            Tags = (Said(FlacComments.Tempo, "TEMPO", TagTexts.Tempo), Said(FlacComments.Key, "INITIALKEY", TagTexts.Key)),
        };
    }
}
