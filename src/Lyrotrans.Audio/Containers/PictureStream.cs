using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Containers;

/// <summary>The stream of picture inside a file.</summary>
/// <param name="Index">Among all streams of the file, from 0.</param>
/// <param name="Codec">As ffmpeg calls it.</param>
/// <param name="Width">In pixels; 0 where it is not said.</param>
/// <param name="Height">In pixels; 0 where it is not said.</param>
/// <param name="FramesPerSecond">Null where it is not said.</param>
/// <param name="Tick">Seconds that its time stamps count; null where it is not said.</param>
/// <param name="Seconds">How long it says it is; null where it says nothing.</param>
public sealed record PictureStream(int Index, string Codec, int Width, int Height, Rational? FramesPerSecond, Rational? Tick, Rational? Seconds)
{
    private static readonly Dictionary<string, string> s_words = new()
    {
        ["h264"] = "H.264",
        ["hevc"] = "H.265",
        ["dnxhd"] = "VC-3",
        ["prores"] = "RDD 36",
        ["mjpeg"] = "Motion JPEG",
        ["mpeg2video"] = "MPEG-2",
        ["mpeg4"] = "MPEG-4",
        ["rawvideo"] = "uncoded",
    };

    /// <summary>What it is coded as, by the standard's name where there is one.</summary>
    public string CodecWords => s_words.GetValueOrDefault(Codec, Codec);

    /// <summary>What it is, in words, such as <c>H.264, 1920 × 1080, 25 frames a second, 1 min 15 s</c>.</summary>
    public string Words
    {
        get
        {
            string?[] parts =
            [
                CodecWords,
                Width > 0 && Height > 0 ? string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{Width} × {Height}") : null,
                FramesPerSecond is { } frames ? string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{frames.ToDouble():0.###} frames a second") : null,
                Seconds is { } seconds ? Length(seconds.ToDouble()) : null,
            ];
            return string.Join(", ", parts.OfType<string>());
        }
    }

    private static string Length(double seconds) => string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{(long)seconds / 60} min {seconds % 60:00.###} s");
}
