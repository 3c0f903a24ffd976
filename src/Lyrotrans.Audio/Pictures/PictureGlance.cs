using System.Globalization;
using Lyrotrans.Audio.Containers;
using Lyrotrans.Core.Errors;

namespace Lyrotrans.Audio.Pictures;

/// <summary>The frames of a picture as they are seen, small and grey, one after the other from the first.</summary>
public sealed class PictureGlance : IDisposable
{
    private const int Width = 32;
    private const int Height = 18;
    private readonly ToolProcess _tool;

    private PictureGlance(ToolProcess tool) => _tool = tool;

    /// <summary>Bytes of a frame: its pixels, row by row.</summary>
    public const int FrameBytes = Width * Height;

    /// <exception cref="BadInputException">ffmpeg is not installed.</exception>
    public static PictureGlance Open(PictureSource source) => new(ToolProcess.Start(
        "ffmpeg",
        [
            "-v", "error", "-nostdin", "-threads", "2", .. ContainerProbe.Open(source.Path, source.Format), "-map", string.Create(CultureInfo.InvariantCulture, $"0:{source.Picture.Index}"), "-an", "-sn",
            "-vf", $"scale={Width}:{Height}:flags=area,format=gray", "-fps_mode", "passthrough", "-f", "rawvideo", "pipe:1",
        ],
        source.Name));

    /// <summary>The next frame.</summary>
    /// <returns>False where there is none.</returns>
    public bool Read(Span<byte> frame) => _tool.Read(frame[..FrameBytes]) == FrameBytes;

    /// <summary>How far two frames are apart: the mean over their pixels, of 255.</summary>
    public static double Apart(ReadOnlySpan<byte> a, ReadOnlySpan<byte> b)
    {
        var sum = 0;
        for (var i = 0; i < FrameBytes; i++)
        {
            sum += Math.Abs(a[i] - b[i]);
        }

        return (double)sum / FrameBytes;
    }

    public void Dispose() => _tool.Dispose();
}
