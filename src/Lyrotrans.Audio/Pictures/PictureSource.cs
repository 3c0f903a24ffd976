using System.Globalization;
using Lyrotrans.Audio.Containers;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Pictures;

/// <summary>A file with picture on disk: what it says of itself, its frames, and stills of it.</summary>
/// <remarks>docs/formats/picture.md, section 1.</remarks>
public sealed class PictureSource
{
    private const int MostStillBytes = 1 << 22;
    private const int MostStillWidth = 1280;
    private static readonly Rational s_aside = new(2, 5);

    private PictureSource(string path, string name, string format, ContainerFacts facts, PictureStream picture) =>
        (Path, Name, Format, Facts, Picture) = (System.IO.Path.GetFullPath(path), name, format, facts, picture);

    /// <summary>On disk.</summary>
    public string Path { get; }

    /// <summary>As people call it.</summary>
    public string Name { get; }

    /// <summary>As ffmpeg calls it: <c>mxf</c> or <c>mov</c>.</summary>
    public string Format { get; }

    /// <summary>What it says of itself.</summary>
    public ContainerFacts Facts { get; }

    /// <summary>Its stream of picture.</summary>
    public PictureStream Picture { get; }

    /// <param name="path">On disk.</param>
    /// <param name="name">As people call it, for errors.</param>
    /// <param name="format">As ffmpeg calls it: <c>mxf</c> or <c>mov</c>.</param>
    /// <exception cref="BadInputException">It cannot be told what is in it, or it holds no picture.</exception>
    public static PictureSource Open(string path, string name, string format)
    {
        var facts = ContainerProbe.Read(path, name, format);
        return facts.Picture is { } picture ? new PictureSource(path, name, format, facts, picture) : throw new BadInputException(ContainerCodes.Nothing, name, string.Empty, "It holds no picture.", "Ask for the picture again.");
    }

    /// <summary>A session's picture with what its file says.</summary>
    public PictureReference Described(PictureReference picture) => picture with
    {
        FramesPerSecond = Picture.FramesPerSecond,
        LengthFrames = Picture.Seconds is { } seconds ? Math.Max(1, (seconds * picture.Start.Rate.PerSecond).RoundToEven()) : picture.LengthFrames,
        SoundChannels = Facts.Streams.Sum(s => s.Channels),
    };

    /// <summary>All its frames; the whole file is read.</summary>
    /// <exception cref="BadInputException">They cannot be read.</exception>
    public PicturePackets Packets(CancellationToken stop) => PicturePackets.Read(Path, Name, Format, Picture, stop);

    /// <summary>One of its frames as it is seen, as JPEG.</summary>
    /// <param name="frame">From 0, of frames that are all seen equally long.</param>
    /// <param name="width">In pixels, at most 1280; the height follows.</param>
    /// <exception cref="BadInputException">Nothing can be decoded there.</exception>
    public byte[] Still(long frame, int width)
    {
        // A little before it: what ffmpeg rounds to microseconds stays on the right side of it, and the first frame from there on is given.
        var seconds = frame == 0 ? Rational.Zero : (frame - s_aside) / (Picture.FramesPerSecond ?? FrameRate.Fps25.PerSecond);
        var scale = $"scale={Math.Clamp(width, 16, MostStillWidth)}:-2";
        using var tool = ToolProcess.Start(
            "ffmpeg",
            [
                "-v", "error", "-nostdin", "-threads", "1", "-ss", Decimal(seconds), .. ContainerProbe.Open(Path, Format), "-map", $"0:{Picture.Index}", "-an", "-sn", "-frames:v", "1",
                "-vf", scale, "-c:v", "mjpeg", "-q:v", "5", "-f", "image2pipe", "pipe:1",
            ],
            Name);
        var bytes = new byte[MostStillBytes];
        var count = tool.Read(bytes);
        return count > 0 && count < MostStillBytes && tool.Succeeded() ? bytes[..count] : throw new BadInputException(ContainerCodes.NotRead, Name, string.Empty, "Nothing of its picture can be decoded there.", "Ask for the picture again.");
    }

    // As ffmpeg is told of them, to the microsecond that it knows.
    private static string Decimal(Rational seconds) => ((decimal)(seconds * 1_000_000).RoundToEven() / 1_000_000).ToString("0.000000", CultureInfo.InvariantCulture);
}
