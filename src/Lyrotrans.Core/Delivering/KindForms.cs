using System.Globalization;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>How the files of each kind are made, and what they cover.</summary>
public sealed class KindForms
{
    private readonly Session _session;
    private readonly Preparation _preparation;
    private readonly Dictionary<FileKind, SampleRange> _ranges;

    /// <param name="session">The session.</param>
    /// <param name="preparation">What was chosen.</param>
    /// <param name="all">What all files cover, in session samples.</param>
    /// <param name="sounds">Measured sound by media id.</param>
    public KindForms(Session session, Preparation preparation, SampleRange all, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        (_session, _preparation) = (session, preparation);
        _ranges = Choices.FileKinds.ToDictionary(k => k.Value, k => DeliveryRange.OfKind(session, preparation, k.Value, this[k.Value].Range, all, sounds));
        _ranges[FileKind.Click] = _ranges[FileKind.Click].ForClick(session, preparation);
    }

    /// <summary>How the files of a kind are made.</summary>
    public FileForm this[FileKind kind] => FileForm.Of(_preparation, kind, _session.Rate);

    /// <summary>What the files of a kind cover, in session samples.</summary>
    public SampleRange RangeOf(FileKind kind) => _ranges[kind];

    /// <summary>The same, in samples of the files.</summary>
    public SampleRange SpanOf(FileKind kind) => this[kind].SpanOf(_ranges[kind], _session.Rate);

    /// <summary>A file of sound.</summary>
    /// <param name="path">Without its ending.</param>
    /// <param name="planned">What it is.</param>
    /// <param name="kind">The kind of files that it is of.</param>
    /// <param name="channels">1 or more.</param>
    public PlannedFile File(string path, PlannedKind planned, FileKind kind, int channels)
    {
        var (form, span) = (this[kind], SpanOf(kind));
        return new PlannedFile(path + form.Extension, planned, null, channels, Math.Max(0, span.Length), Math.Max(0, span.Length) * channels * form.Encoding.Bytes()) { Form = form, Span = span };
    }

    /// <summary>The files of a mix or a click: one, or one for each channel.</summary>
    /// <param name="path">Without its ending.</param>
    /// <param name="planned">What they are.</param>
    /// <param name="kind">The kind of files that they are of.</param>
    /// <param name="channels">Of the sound, 1 or more.</param>
    public IEnumerable<PlannedFile> Files(string path, PlannedKind planned, FileKind kind, int channels) => _preparation.Kinds[kind].Channels switch
    {
        DeliveredChannels.Mono => [File(path, planned, kind, 1)],
        DeliveredChannels.Stereo => [File(path, planned, kind, 2)],
        DeliveredChannels.Separate when channels > 1 => Enumerable.Range(0, channels).Select(c => File($"{path}_{ChannelName(c, channels)}", planned, kind, 1) with { Channel = c }),
        _ => [File(path, planned, kind, channels)],
    };

    /// <summary>What names end with of a file that has one channel of several: of two, the trade's letters; of more, numbers from 1.</summary>
    public static string ChannelName(int channel, int of) => of == 2 ? (channel == 0 ? "L" : "R") : (channel + 1).ToString(CultureInfo.InvariantCulture);

    /// <summary>The files in which the sound of some goes along in another format too.</summary>
    public static IEnumerable<PlannedFile> SameSounds(IEnumerable<PlannedFile> files) => files.Where(f => f.IsSound && f.Made.Also is not null).Select(f =>
    {
        var form = f.Made with { Container = f.Made.Also!.Value, Also = null };
        return f with { Path = f.Path[..^f.Made.Extension.Length] + form.Extension, Kind = PlannedKind.SameSound, Of = f.Path, Form = form };
    });
}
