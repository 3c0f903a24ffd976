using System.Globalization;
using System.Text;
using Lyrotrans.Audio.Containers;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Audio.Pictures;

/// <summary>Makes the picture of a package: its frames copied or coded anew, from a frame on, without sound, with its timecode. The same source and plan give the same bytes.</summary>
/// <remarks>docs/formats/picture.md, section 2.</remarks>
public static class PictureMaker
{
    /// <summary>Writes it.</summary>
    /// <param name="source">Where its frames are from.</param>
    /// <param name="plan">Which of them, and in which form.</param>
    /// <param name="target">A file on disk that is there; its name ends as the plan's does.</param>
    /// <param name="report">Told how far it is, from 0 to 1.</param>
    /// <param name="stop">Stops between frames.</param>
    /// <exception cref="BadInputException">It cannot be made.</exception>
    public static MadePicture Make(PictureSource source, PicturePlan plan, string target, Action<double> report, CancellationToken stop)
    {
        var how = PictureWay.Of(source, plan, source.Packets(stop));

        // Frames are counted from the first on and never sought: ffmpeg is told of times, and rounds them to microseconds.
        List<string> arguments =
        [
            "-v", "error", "-nostdin", "-y", "-progress", "pipe:1", "-threads", "4", .. ContainerProbe.Open(source.Path, source.Format), "-map", $"0:{source.Picture.Index}", "-an", "-sn", "-dn",
            .. how.IsCopy ? ["-c:v", "copy", "-bsf:v", string.Create(CultureInfo.InvariantCulture, $"{(how.FirstPacket == 0 ? string.Empty : $"noise=drop=lt(n\\,{how.FirstPacket}),")}setts=pts=PTS-STARTPTS:dts=DTS-STARTPTS")] : Coding(source, plan),
            "-map_metadata", "-1", "-map_chapters", "-1", "-fflags", "+bitexact", "-flags:v", "+bitexact",
            .. plan.OwnStart is { } start ? ["-timecode", start.ToString()] : Array.Empty<string>(), .. Container(plan), $"file:{Path.GetFullPath(target)}",
        ];
        using var tool = ToolProcess.Make("ffmpeg", Path.GetFullPath(target), arguments, source.Name);
        Watch(tool, done => report(Math.Clamp((double)done / Math.Max(1, how.Frames), 0, 1)), stop);
        return tool.Succeeded() ? new MadePicture(how.Frames, how.IsCopy, how.Why) : throw NotMade(source, tool);
    }

    // H.264 has few frames between those that stand alone, and none that are seen before those they are made from: it is searched back and forth while sound is made to it.
    private static IReadOnlyList<string> Coding(PictureSource source, PicturePlan plan)
    {
        var anew = plan.Form == PictureForm.AsItIs ? (source.Format == "mxf" ? PictureForm.Vc3 : PictureForm.H264) : plan.Form;
        IReadOnlyList<string> coder = anew switch
        {
            PictureForm.Vc3 => ["-c:v", "dnxhd", "-profile:v", "dnxhr_lb", "-pix_fmt", "yuv422p"],
            PictureForm.Rdd36 => ["-c:v", "prores_ks", "-profile:v", "1", "-pix_fmt", "yuv422p10le"],
            _ => ["-c:v", "libx264", "-preset", "medium", "-crf", "18", "-pix_fmt", "yuv420p", "-g", Math.Max(1, (plan.FramesPerSecond / 2).RoundToEven()).ToString(CultureInfo.InvariantCulture), "-bf", "0"],
        };
        return ["-vf", $"trim=start_frame={plan.FirstFrame.ToString(CultureInfo.InvariantCulture)},setpts=PTS-STARTPTS,scale=trunc(iw/2)*2:trunc(ih/2)*2", "-fps_mode", "passthrough", "-threads", "4", .. coder];
    }

    private static IReadOnlyList<string> Container(PicturePlan plan) => Path.GetExtension(plan.FileName) switch
    {
        ".mp4" or ".m4v" => ["-write_tmcd", "1", "-f", "mp4"],
        ".mxf" => ["-f", "mxf"],
        _ => ["-f", "mov"],
    };

    private static void Watch(ToolProcess tool, Action<long> report, CancellationToken stop)
    {
        var block = new byte[4096];
        var line = new StringBuilder();
        for (int read; (read = tool.ReadSome(block)) > 0;)
        {
            stop.ThrowIfCancellationRequested();
            foreach (var b in block.AsSpan(0, read))
            {
                if (b != '\n')
                {
                    line.Append((char)b);
                    continue;
                }

                if (line.ToString() is ['f', 'r', 'a', 'm', 'e', '=', .. var count] && long.TryParse(count, CultureInfo.InvariantCulture, out var done))
                {
                    report(done);
                }

                line.Clear();
            }
        }
    }

    private static BadInputException NotMade(PictureSource source, ToolProcess tool) => new(
        ContainerCodes.NotMade, source.Name, string.Empty,
        tool.WasNotConfined ? "Its picture cannot be made: this kernel cannot hold ffmpeg to the one file that it is to write." : $"Its picture cannot be made: {(tool.TookTooLong ? "it takes too long" : tool.Words is { Length: > 0 } words ? words : "ffmpeg gave up")}.",
        "Let it go as it is and whole, in another form, or not at all.");
}
