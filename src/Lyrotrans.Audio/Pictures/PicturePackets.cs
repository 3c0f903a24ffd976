using System.Globalization;
using System.Text;
using Lyrotrans.Audio.Containers;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Pictures;

/// <summary>All frames of a picture as they lie in its file, in the order of decoding.</summary>
public sealed class PicturePackets
{
    private const int Most = 4_000_000;
    private const int LongestLine = 400;
    private readonly List<PicturePacket> _packets;
    private readonly long[] _times;

    private PicturePackets(List<PicturePacket> packets)
    {
        _packets = packets;
        _times = [.. packets.Where(p => p.IsSeen).Select(p => p.Time).Order()];
    }

    /// <summary>In the order of decoding.</summary>
    public IReadOnlyList<PicturePacket> All => _packets;

    /// <summary>How many of them are seen.</summary>
    public int Seen => _times.Length;

    /// <summary>Whether all that is there is seen.</summary>
    public bool AllSeen => _times.Length == _packets.Count;

    /// <param name="path">On disk.</param>
    /// <param name="name">For errors.</param>
    /// <param name="format">As ffmpeg calls it: <c>mxf</c> or <c>mov</c>.</param>
    /// <param name="stream">Which stream, as ffprobe is told.</param>
    /// <param name="stop">Stops between frames.</param>
    /// <exception cref="BadInputException">They cannot be read.</exception>
    public static PicturePackets Read(string path, string name, string format, PictureStream stream, CancellationToken stop)
    {
        string[] asked = ["-v", "error", "-select_streams", stream.Index.ToString(CultureInfo.InvariantCulture), "-show_packets", "-show_data_hash", "SHA256", "-show_entries", "packet=pts,flags,data_hash", "-of", "compact=p=0"];
        using var tool = ToolProcess.Start("ffprobe", [.. asked, .. ContainerProbe.Open(Path.GetFullPath(path), format)], name);
        var packets = new List<PicturePacket>();
        var line = new StringBuilder();
        var block = new byte[1 << 16];
        for (int read; (read = tool.ReadSome(block)) > 0;)
        {
            stop.ThrowIfCancellationRequested();
            foreach (var b in block.AsSpan(0, read))
            {
                if (b != '\n')
                {
                    _ = line.Length < LongestLine ? line.Append((char)b) : throw ContainerProbe.NotRead(name, "what is in it cannot be told");
                    continue;
                }

                packets.Add(packets.Count < Most ? Packet(line.ToString(), name) : throw ContainerProbe.NotRead(name, $"its picture has more than {Most} frames"));
                line.Clear();
            }
        }

        return tool.Succeeded() && packets.Exists(p => p.IsSeen) ? new PicturePackets(packets) : throw ContainerProbe.NotRead(name, tool.TookTooLong ? "reading it takes too long" : "its picture has no frames that can be read");
    }

    /// <summary>When a frame is seen, in ticks of the stream.</summary>
    /// <param name="frame">From 0, in the order in which they are seen.</param>
    public long TimeOf(long frame) => _times[frame];

    /// <summary>Whether all frames are seen equally long, to a tick: only then is a frame found by its number.</summary>
    public bool AreEven(Rational ticksPerFrame) => _times.Select((t, i) => (Time: t - _times[0], Due: i * ticksPerFrame)).All(f => f.Time - f.Due <= 1 && f.Due - f.Time <= 1);

    /// <summary>Where in the order of decoding a copy can begin with a frame: at one that can be decoded by itself and behind which nothing is seen before it. Null where none can.</summary>
    public int? CutAt(long frame)
    {
        var at = _packets.FindIndex(p => p.Time == _times[frame]);
        return AllSeen && _packets[at].IsKey && _packets.Skip(at).All(p => p.Time >= _times[frame]) && _packets.Take(at).All(p => p.Time < _times[frame]) ? at : null;
    }

    private static PicturePacket Packet(string line, string name)
    {
        var said = line.Split('|').Select(p => p.Split('=', 2)).Where(p => p.Length == 2).GroupBy(p => p[0]).ToDictionary(g => g.Key, g => g.First()[1]);
        return said.TryGetValue("pts", out var pts) && long.TryParse(pts, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var time)
            && said.TryGetValue("flags", out var flags) && said.TryGetValue("data_hash", out var hash) && hash.StartsWith("SHA256:", StringComparison.Ordinal)
            ? new PicturePacket(time, flags.StartsWith('K'), !flags.Contains('D'), hash[7..])
            : throw ContainerProbe.NotRead(name, "a frame of its picture does not say when it is seen");
    }
}
