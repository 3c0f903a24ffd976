using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Named places and sections that sound files bring: they are markers where the file lies.</summary>
public sealed class SoundMarksTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-marks-").FullName;
    private readonly Dictionary<string, string> _files = [];

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static byte[] Chunk(string name, byte[] body)
    {
        var size = new byte[4];
        BinaryPrimitives.WriteInt32LittleEndian(size, body.Length);
        return [.. Encoding.ASCII.GetBytes(name), .. size, .. body, .. new byte[body.Length & 1]];
    }

    private static byte[] Numbers(params int[] numbers) => [.. numbers.SelectMany(BitConverter.GetBytes)];

    /// <summary>A silent file with cues, each with what is said of it.</summary>
    private static byte[] Wave(int frames, int rate, params (int Sample, string? Label, int Length, string? SpanText)[] cues)
    {
        var layout = new PcmLayout(SampleEncoding.Integer24, false, 1, SampleRate.FromHz(rate), 0, frames);
        byte[] file = [.. WaveWriter.Head(layout, null), .. new byte[layout.DataBytes + (layout.DataBytes & 1)]];
        var points = Chunk("cue ", [.. Numbers(cues.Length), .. cues.SelectMany((c, i) => (byte[])[.. Numbers(i + 1, 0), .. "data"u8, .. Numbers(0, 0, c.Sample)])]);
        var said = cues.SelectMany((c, i) => (byte[])
        [
            .. c.Label is null ? [] : Chunk("labl", [.. Numbers(i + 1), .. Encoding.Latin1.GetBytes(c.Label), 0]),
            .. c.Length == 0 ? [] : Chunk("ltxt", [.. Numbers(i + 1, c.Length), .. "rgn "u8, .. new byte[8], .. Encoding.Latin1.GetBytes(c.SpanText ?? string.Empty)]),
        ]);
        byte[] whole = [.. file, .. points, .. Chunk("LIST", [.. "adtl"u8, .. said])];
        BinaryPrimitives.WriteInt32LittleEndian(whole.AsSpan(4), whole.Length - 8);
        return whole;
    }

    private IntakeItem Item(string name, byte[] bytes)
    {
        var path = Path.Combine(_folder, name);
        File.WriteAllBytes(path, bytes);
        var sha256 = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes));
        _files[sha256] = path;
        var item = Examiner.Examine(new DiskFile(path), name, sha256);
        Assert.Null(item.Error);
        return item;
    }

    private JoinedSession Joined(Func<IntakeState, IntakeState> change, params IntakeItem[] items)
    {
        var state = change(new IntakeState { SessionName = "s", Items = [.. items] });
        return SessionJoin.Join(IntakeState.FromJson(state.ToJson()), sha256 => File.OpenRead(_files[sha256]));
    }

    [Fact]
    public void Named_cues_are_markers_and_spans_are_sections_where_the_file_lies()
    {
        var item = Item("voice.wav", Wave(48_000, 48_000, (100, "Verse", 20_000, null), (30_000, null, 500, "Bridge"), (40_000, "Out", 0, null), (41_000, null, 0, null))) with
        {
            Placement = new Placement(PlacementRule.Offset, 5_000),
        };
        Assert.Equal(3, item.Sound!.Marks!.Count);
        var joined = Joined(s => s, item);
        Assert.Equal([("Verse", 5_100L, 20_000L), ("Bridge", 35_000, 500), ("Out", 45_000, 0)], joined.Session.Markers.Select(m => (m.Text, m.Sample, m.Length)));
        Assert.Contains(joined.MarkerSources, m => m.Name == "voice.wav");
    }

    [Fact]
    public void They_keep_their_time_at_another_rate_and_are_one_where_many_files_say_the_same()
    {
        var first = Item("a.wav", Wave(44_100, 44_100, (22_050, "Half", 11_025, null)));
        var second = Item("b.wav", Wave(48_000, 48_000, (24_000, "Half", 12_000, null)));
        var session = Joined(s => s, first, second).Session;
        var marker = Assert.Single(session.Markers);
        Assert.Equal(("Half", session.Rate.HeaderHz / 2, session.Rate.HeaderHz / 4), (marker.Text, marker.Sample, marker.Length));
    }

    [Fact]
    public void What_lies_outside_the_file_is_no_marker_and_a_section_ends_with_it()
    {
        var item = Item("cut.wav", Wave(1_000, 48_000, (900, "Long", 5_000, null), (2_000, "Gone", 0, null)));
        var marker = Assert.Single(Joined(s => s, item).Session.Markers);
        Assert.Equal(("Long", 900L, 100L), (marker.Text, marker.Sample, marker.Length));
    }
}
