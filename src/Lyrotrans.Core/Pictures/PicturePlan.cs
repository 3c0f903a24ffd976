using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Pictures;

/// <summary>The reference picture as a file of the package: which of its frames, from where on, in which form.</summary>
public sealed record PicturePlan
{
    // Of forms that hold every frame by itself, at the sizes that sound is made to: only to see whether there is room.
    private const long BytesPerSecond = 6_000_000;
    private static readonly string[] s_known = [".mov", ".mp4", ".m4v", ".mxf"];

    private readonly bool _isFlat;

    private PicturePlan(Session session, PictureReference source, Preparation preparation)
    {
        _isFlat = preparation.Sheet?.Folders == FolderLayout.Flat;
        (Source, Form) = (source, preparation.Picture.Form);
        FramesPerSecond = source.FramesPerSecond!.Value;
        var (rate, scale) = (session.Rate, session.FrameRate.PerSecond);
        var begins = (source.Start.Frames / source.Start.Rate.PerSecond) - (session.Start.Frames / scale);
        FilesStart = Preparing.FilesStart.Of(session, preparation);
        FirstFrame = preparation.Picture.Extent == PictureExtent.FromFiles ? Math.Max(0, (long)((rate.SecondsOf(FilesStart) - begins) * FramesPerSecond).Floor()) : 0;
        var seconds = begins + (FirstFrame / FramesPerSecond);
        Sample = rate.SamplesIn(seconds).RoundToEven();
        Start = session.Start with { Frames = (long)((seconds * scale) + session.Start.Frames).Floor() };
        LengthFrames = source.LengthFrames == 0 ? 0 : source.LengthFrames - (long)(FirstFrame / FramesPerSecond * scale).Floor();
        FileName = LegalName.From(Stem(source.FileName)) + Extension(source.FileName, Form);
    }

    /// <summary>What it is made from.</summary>
    public PictureReference Source { get; }

    /// <summary>What it is coded as.</summary>
    public PictureForm Form { get; }

    /// <summary>The source's own.</summary>
    public Rational FramesPerSecond { get; }

    /// <summary>The first frame of the source that goes, from 0.</summary>
    public long FirstFrame { get; }

    /// <summary>The session sample at which its first frame begins.</summary>
    public long Sample { get; }

    /// <summary>The session sample at which all files begin.</summary>
    public long FilesStart { get; }

    /// <summary>The session's frame in which its first frame begins.</summary>
    public Timecode Start { get; }

    /// <summary>In frames of the session; 0 where it is not known, less than 1 where nothing of it is left.</summary>
    public long LengthFrames { get; }

    /// <summary>Without a folder.</summary>
    public string FileName { get; }

    /// <summary>Where it lies, under the package's own folder.</summary>
    public string Path => _isFlat ? FileName : $"picture/{FileName}";

    /// <summary>Whether the picture has ended when the files begin.</summary>
    public bool IsEmpty => Source.LengthFrames > 0 && LengthFrames < 1;

    /// <summary>What the receiver is told of it.</summary>
    public PictureReference Delivered => new(Path, Start, Math.Max(0, LengthFrames)) { FramesPerSecond = Source.FramesPerSecond };

    /// <summary>About how large it will be.</summary>
    public long Bytes
    {
        get
        {
            var part = Source.LengthFrames > 0 ? Math.Clamp((double)LengthFrames / Source.LengthFrames, 0, 1) : 1;
            return Form is PictureForm.AsItIs or PictureForm.H264 ? (long)(Source.Bytes * part) : (long)(LengthFrames / Source.Start.Rate.PerSecond.ToDouble() * BytesPerSecond);
        }
    }

    /// <summary>Where the files begin against the picture, in words.</summary>
    public string Against => Sample == FilesStart ? "with its first frame" : $"{Phrases.Count(Math.Abs(FilesStart - Sample), "sample")} {(Sample < FilesStart ? "after" : "before")} its first frame";

    /// <summary>Its own timecode at its first frame, in its own frames; null where its rate has none.</summary>
    public Timecode? OwnStart
    {
        get
        {
            var rate = FrameRate.All.FirstOrDefault(r => r.PerSecond == FramesPerSecond && r.Drop == Source.Start.Rate.Drop);
            return rate.PerSecond == FramesPerSecond ? new Timecode((long)(Source.Start.Frames / Source.Start.Rate.PerSecond * FramesPerSecond).Floor() + FirstFrame, rate).WithinDay : null;
        }
    }

    /// <summary>The picture as it goes; null where it does not, or only its name is known.</summary>
    public static PicturePlan? Of(Session session, Preparation preparation) =>
        preparation.Picture.Extent != PictureExtent.None && session.Picture is { IsThere: true } picture ? new PicturePlan(session, picture, preparation) : null;

    private static string Stem(string name) => System.IO.Path.GetFileNameWithoutExtension(name.Replace('\\', '/'));

    private static string Extension(string name, PictureForm form) => form switch
    {
        PictureForm.H264 => ".mp4",
        PictureForm.Vc3 or PictureForm.Rdd36 => ".mov",
        _ => s_known.FirstOrDefault(e => name.EndsWith(e, StringComparison.OrdinalIgnoreCase)) ?? ".mov",
    };
}
