using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Preparing;

/// <summary>How the files of a kind are made: what was chosen for the kind, else for all files; a finished mix is of 16 bits and from its first sound to its last where nothing else was chosen.</summary>
/// <param name="Rate">Samples a second.</param>
/// <param name="Encoding">How samples are stored.</param>
/// <param name="Dither">The noise that is added where bits are lost to 16.</param>
/// <param name="Container">The file format.</param>
/// <param name="Also">Another format in which the same sound goes along; null where none does.</param>
/// <param name="Range">What the files cover.</param>
public sealed record FileForm(SampleRate Rate, SampleEncoding Encoding, DitherForm Dither, SoundContainer Container, SoundContainer? Also, FileRange Range)
{
    /// <param name="preparation">What was chosen.</param>
    /// <param name="kind">Of files.</param>
    /// <param name="session">The session's rate.</param>
    public static FileForm Of(Preparation preparation, FileKind kind, SampleRate session)
    {
        var (choice, finished) = (preparation.Kinds[kind], kind == FileKind.FinishedMix);
        var container = choice.Container ?? preparation.Container;
        return new FileForm(
            choice.Rate is { } own ? SampleRate.FromHz(own) : preparation.RateOf(session),
            choice.Encoding ?? (finished ? SampleEncoding.Integer16 : preparation.Encoding),
            choice.Dither ?? preparation.Dither,
            container,
            choice.Also == container ? null : choice.Also,
            choice.Range ?? (finished ? FileRange.Sound : FileRange.AllFiles));
    }

    /// <summary>The file name's ending for a format.</summary>
    public static string ExtensionOf(SoundContainer container) => container switch { SoundContainer.Flac => ".flac", SoundContainer.Aiff => ".aif", _ => ".wav" };

    /// <summary>The file name's ending.</summary>
    public string Extension => ExtensionOf(Container);

    /// <summary>A span of session samples in samples of these files: both ends go to the nearest, so that files that touch still do.</summary>
    /// <param name="range">In session samples.</param>
    /// <param name="session">The session's rate.</param>
    public SampleRange SpanOf(SampleRange range, SampleRate session) => new(session.Convert(range.Start, Rate), session.Convert(range.End, Rate));
}
