using System.Text.Json;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Containers;

/// <summary>Asks ffprobe what is in a file, as nothing but the format that its first bytes say.</summary>
public static class ContainerProbe
{
    private const int MostBytes = 1 << 22;
    private const int MostStreams = 64;
    private const int MostChannels = 256;
    private const int MostPixels = 1 << 16;
    private const double LeastBytes = 1 << 26;
    private const double MostOfAByte = 64;
    private const string Asked = "stream=index,codec_type,codec_name,sample_rate,channels,sample_fmt,bits_per_sample,bits_per_raw_sample,start_pts,time_base,duration_ts,avg_frame_rate,width,height"
        + ":stream_tags=file_package_umid,timecode:stream_disposition=attached_pic:format_tags=timecode";

    /// <summary>How each program is told to open a file: as a format that is known, from the disk and from nowhere else.</summary>
    /// <param name="path">On disk.</param>
    /// <param name="format">As ffmpeg calls it: <c>mxf</c> or <c>mov</c>.</param>
    internal static IReadOnlyList<string> Open(string path, string format) => ["-protocol_whitelist", "file", "-f", format, "-i", $"file:{path}"];

    /// <param name="path">On disk.</param>
    /// <param name="name">For errors.</param>
    /// <param name="format">As ffmpeg calls it: <c>mxf</c> or <c>mov</c>.</param>
    /// <exception cref="BadInputException">It cannot be told what is in it, or ffmpeg is not installed.</exception>
    public static ContainerFacts Read(string path, string name, string format)
    {
        using var tool = ToolProcess.Start("ffprobe", ["-v", "error", "-of", "json", "-show_entries", Asked, .. Open(Path.GetFullPath(path), format)], name);
        var bytes = new byte[MostBytes];
        var count = tool.Read(bytes);
        if (count == MostBytes || !tool.Succeeded())
        {
            throw NotRead(name, tool.TookTooLong ? "reading it takes too long" : count == MostBytes ? "it says too much of itself" : "what is in it cannot be told");
        }

        try
        {
            using var said = JsonDocument.Parse(bytes.AsMemory(0, count));
            var facts = Facts(said.RootElement, name);
            return facts.Streams.All(s => IsPossible(s, new FileInfo(path).Length)) ? facts : throw NotRead(name, "it says a length that its bytes cannot hold");
        }
        catch (Exception problem) when (problem is JsonException or FormatException or OverflowException or InvalidOperationException or KeyNotFoundException)
        {
            throw NotRead(name, "what is in it cannot be told");
        }
    }

    /// <summary>The refusal of a file whose sound cannot be taken out.</summary>
    internal static BadInputException NotRead(string name, string why) => new(ContainerCodes.NotRead, name, string.Empty, $"Its sound cannot be taken out: {why}.", "Ask for the sound as WAVE or AIFF, or for the file again.");

    // What is missing of a file that was cut is silence, so a length that is said is held against the bytes before anything is made as long.
    private static bool IsPossible(ContainerStream stream, long bytes)
    {
        var made = ((double)(stream.IsLossy ? 0 : stream.Frames ?? 0) + stream.Before) * stream.Channels * stream.Encoding.Bytes();
        return stream.Frames is null or >= 0 && made <= Math.Max(LeastBytes, MostOfAByte * (double)bytes);
    }

    private static ContainerFacts Facts(JsonElement said, string name)
    {
        var all = said.TryGetProperty("streams", out var streams) ? streams.EnumerateArray().ToList() : [];
        var sounds = all.Where(s => Text(s, "codec_type") == "audio").ToList();
        if (sounds.Count > MostStreams || sounds.Sum(s => Number(s, "channels") ?? 0) > MostChannels)
        {
            throw NotRead(name, $"it has more than {MostStreams} streams of sound or {MostChannels} channels");
        }

        var picture = all.Where(s => Text(s, "codec_type") == "video" && !(s.TryGetProperty("disposition", out var d) && Number(d, "attached_pic") == 1)).ToList();
        var umid = all.Select(s => Tag(s, "file_package_umid")).FirstOrDefault(u => u is not null);
        return new ContainerFacts(
            [.. sounds.Select(s => Stream(s, name))], picture.Count > 0 ? Picture(picture[0]) : null,
            umid is { Length: 66 } && umid.StartsWith("0x", StringComparison.OrdinalIgnoreCase) ? umid[2..].ToLowerInvariant() : null,
            StartSeconds(all.Select(s => Tag(s, "timecode")).Append(said.TryGetProperty("format", out var f) ? Tag(f, "timecode") : null).FirstOrDefault(t => t is not null), picture));
    }

    private static PictureStream Picture(JsonElement stream)
    {
        var tick = Ratio(Text(stream, "time_base")) is { Sign: > 0 } unit ? unit : (Rational?)null;
        var (width, height) = (Number(stream, "width") ?? 0, Number(stream, "height") ?? 0);
        return new PictureStream(
            (int)(Number(stream, "index") ?? 0), Text(stream, "codec_name") ?? string.Empty, (int)Math.Clamp(width, 0, MostPixels), (int)Math.Clamp(height, 0, MostPixels), FramesPerSecond([stream]), tick,
            Number(stream, "duration_ts") is > 0 and var ticks && tick is { } of ? ticks * of : null);
    }

    private static ContainerStream Stream(JsonElement stream, string name)
    {
        var (hz, channels) = (Number(stream, "sample_rate") ?? 0, Number(stream, "channels") ?? 0);
        if (channels < 1 || !SampleRate.IsPossible(hz))
        {
            throw NotRead(name, $"it says a rate of {hz} Hz and {channels} channels");
        }

        var rate = SampleRate.FromHz(hz);
        var tick = Ratio(Text(stream, "time_base")) is { Sign: > 0 } unit ? rate.SamplesIn(unit) : (Rational?)null;
        long? Samples(string what) => Number(stream, what) is { } ticks && tick is { } of ? (ticks * of).RoundToEven() : null;
        var found = new ContainerStream((int)(Number(stream, "index") ?? 0), Text(stream, "codec_name") ?? string.Empty, SampleEncoding.Float32, (int)channels, rate, Samples("duration_ts"), Math.Max(0, Samples("start_pts") ?? 0));
        return found.IsLossy ? found : found with { Encoding = Encoding(stream) };
    }

    private static SampleEncoding Encoding(JsonElement stream)
    {
        var format = Text(stream, "sample_fmt") ?? string.Empty;
        var bits = Number(stream, "bits_per_raw_sample") is > 0 and var raw ? raw : Number(stream, "bits_per_sample");
        return format.TrimEnd('p') switch
        {
            "u8" => SampleEncoding.Unsigned8,
            "s16" => SampleEncoding.Integer16,
            "s32" when bits is > 0 and <= 24 => SampleEncoding.Integer24,
            "s32" => SampleEncoding.Integer32,
            "dbl" => SampleEncoding.Float64,
            _ => SampleEncoding.Float32,
        };
    }

    private static Rational? FramesPerSecond(IReadOnlyList<JsonElement> picture) => picture.Select(p => Ratio(Text(p, "avg_frame_rate"))).FirstOrDefault(r => r is { Sign: > 0 });

    // Where it begins is counted in the frames of its picture; without one nobody says how long a frame is.
    private static Rational? StartSeconds(string? timecode, IReadOnlyList<JsonElement> picture)
    {
        var perSecond = FramesPerSecond(picture);
        var drops = timecode?.Contains(';', StringComparison.Ordinal) ?? false;
        var frames = FrameRate.All.FirstOrDefault(r => r.PerSecond == perSecond && r.Drop == drops);
        return timecode is not null && perSecond is not null && frames.PerSecond == perSecond && Timecode.TryParse(timecode, frames, out var start) ? start.Frames / frames.PerSecond : null;
    }

    private static Rational? Ratio(string? text)
    {
        var parts = (text ?? string.Empty).Split('/');
        return parts.Length == 2 && long.TryParse(parts[0], out var a) && long.TryParse(parts[1], out var b) && b != 0 ? new Rational(a, b) : null;
    }

    private static string? Text(JsonElement of, string name) => of.TryGetProperty(name, out var value) ? value.ToString() : null;

    private static long? Number(JsonElement of, string name) => long.TryParse(Text(of, name), out var number) ? number : null;

    private static string? Tag(JsonElement of, string name) => of.TryGetProperty("tags", out var tags) ? Text(tags, name) : null;
}
