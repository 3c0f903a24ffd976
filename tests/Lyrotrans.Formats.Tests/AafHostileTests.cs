using Lyrotrans.Core.Relinking;
using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Aaf;
using Lyrotrans.Formats.Aaf.Writing;
using Lyrotrans.Formats.Compound;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Formats.Tests;

/// <summary>Files that were made to break a reader: a clear error, or a part of them with findings, in bounded time and memory.</summary>
public class AafHostileTests
{
    private static readonly byte[] s_first = Convert.FromHexString(MobId.Of("test", "first"));

    /// <summary>A file with one composition whose only track holds a segment.</summary>
    private static byte[] File(AafNode segment, params (byte[] Key, AafNode Node)[] mobs)
    {
        var composition = AafMobs.Mob("CompositionMob", s_first, "hostile", [AafMobs.Slot(1, "track", 1, 48_000, segment)]);
        var content = new AafNode("ContentStorage").OwnSet(AafPid.Mobs, AafPid.MobId, [(s_first, composition), .. mobs], 32);
        var header = new AafNode("Header").Own(AafPid.HeaderContent, content).Own(AafPid.HeaderDictionary, AafDictionary.Make());
        var root = new AafNode(string.Empty).Own(AafPid.RootMetaDictionary, new AafNode("MetaDictionary")).Own(AafPid.RootHeader, header).Loose(new CompoundContent("referenced properties", AafPaths.Table()));
        using var output = new MemoryStream();
        CompoundWriter.Write(root.ToStorage(string.Empty), 4096, output);
        return output.ToArray();
    }

    private static (EditComposition Composition, Session Session) Read(byte[] bytes)
    {
        using var stream = new MemoryStream(bytes);
        var composition = AafDocument.Open(stream, "hostile.aaf").Read();
        return (composition, EditImport.Make(composition).Session);
    }

    private static AafNode Sound(string type, long length) => AafMobs.Segment(type, AafDictionary.Sound, length);

    private static byte[] Id(int number) => Convert.FromHexString(MobId.Of("test", number.ToString()));

    private static (byte[], AafNode) Mob(string type, int number, AafNode segment) => (Id(number), AafMobs.Mob(type, Id(number), $"mob {number}", [AafMobs.Slot(1, "slot", 1, 48_000, segment)]));

    [Theory]
    [InlineData("MasterMob")]
    [InlineData("CompositionMob")]
    [InlineData("SourceMob")]
    public void Mobs_that_refer_to_each_other_in_a_circle_are_silent_with_a_finding(string type)
    {
        var bytes = File(
            AafMobs.Clip(AafDictionary.Sound, 1000, Id(1), 1, 0),
            Mob(type, 1, AafMobs.Clip(AafDictionary.Sound, 1000, Id(2), 1, 0)), Mob(type, 2, AafMobs.Clip(AafDictionary.Sound, 1000, Id(1), 1, 0)));
        var (composition, _) = Read(bytes);
        Assert.Contains(composition.Findings, f => f.Text.Contains("comes back to itself", StringComparison.Ordinal) || f.Text.Contains("come back to themselves", StringComparison.Ordinal));
        Assert.Empty(composition.Tracks.SelectMany(t => t.Clips));
    }

    [Fact]
    public void A_clip_that_refers_to_no_source_is_silent_and_its_place_is_told()
    {
        AafNode Empty(long length) => AafMobs.Clip(AafDictionary.Sound, length, AafIds.None, 0, 0);
        var bytes = File(
            Sound("Sequence", 9000).OwnVector(AafPid.Components, [Sound("Filler", 1000), Empty(500), Sound("Filler", 500), AafMobs.Clip(AafDictionary.Sound, 3000, Id(1), 1, 250)]),
            Mob("CompositionMob", 1, Sound("Sequence", 4000).OwnVector(AafPid.Components, [Sound("Filler", 750), Empty(100)])));
        var (composition, _) = Read(bytes);
        Assert.Empty(composition.Tracks.SelectMany(t => t.Clips));
        Assert.Equal(["sample 1\u202f000 of track", "sample 2\u202f500 of track"], composition.Findings.Where(f => f.Code == Formats.Edits.Chains.ChainCodes.NoSource).Select(f => f.Place));
    }

    [Fact]
    public void Points_of_a_fade_that_go_back_in_time_are_left_out_and_told()
    {
        List<(Core.Time.Rational, double)> points = [(0, 0), (new(3, 4), 0.5), (new(1, 4), 0.9), (1, 1)];
        Core.Findings.FindingList findings = [];
        var fade = Edits.Chains.LevelCurve.Fade(points, 100, FadeShape.Linear, false, findings);
        Assert.Equal((2, EditCodes.FadePoints), (fade.Curve.Count - 1, Assert.Single(findings).Code));
        Assert.Equal([0, 0.75, 1], fade.Places);
    }

    [Fact]
    public void Compositions_that_multiply_are_cut_before_they_fill_the_memory()
    {
        // Twelve levels of ten clips each would be a million million.
        var mobs = Enumerable.Range(1, 12).Select(level => Mob("CompositionMob", level, Sound("Sequence", 1000).OwnVector(
            AafPid.Components, [.. Enumerable.Range(0, 10).Select(_ => AafMobs.Clip(AafDictionary.Sound, 100, Id(level + 1), 1, 0))]))).ToArray();
        var (composition, _) = Read(File(AafMobs.Clip(AafDictionary.Sound, 1000, Id(1), 1, 0), mobs));
        Assert.Contains(composition.Findings, f => f.Text.Contains("far more than the file has", StringComparison.Ordinal));
    }

    [Fact]
    public void Nesting_of_ten_thousand_is_cut_with_a_finding()
    {
        var storage = new CompoundStorage(string.Empty, Guid.Empty);
        var segment = Sound("Filler", 10);
        for (var i = 0; i < 150; i++)
        {
            segment = Sound("OperationGroup", 10).Weak(AafPid.Operation, AafPath.Operations, AafDictionary.Gain).OwnVector(AafPid.InputSegments, [segment]);
        }

        var (composition, _) = Read(File(Sound("Sequence", 10).OwnVector(AafPid.Components, [segment])));
        Assert.Contains(composition.Findings, f => f.Text.Contains("nested deeper", StringComparison.Ordinal));

        // Deeper than any writer of objects goes: storages alone.
        var at = storage;
        for (var i = 0; i < 10_000; i++)
        {
            var inner = new CompoundStorage("d", Guid.Empty);
            at.Storages.Add(inner);
            at = inner;
        }

        using var output = new MemoryStream();
        CompoundWriter.Write(storage, 512, output);
        Assert.Throws<BadInputException>(() => AafDocument.Open(output, "deep.aaf").Read());
    }

    [Fact]
    public void Zero_denominators_negative_lengths_and_times_are_taken_as_nothing()
    {
        var ratio = new byte[8];
        ratio[0] = 7;
        var parameter = new AafNode("ConstantValue").Id(AafPid.ParameterDefinition, AafDictionary.Amplitude).Indirect(AafPid.ConstantValue, "Rational", ratio);
        var gain = Sound("OperationGroup", -5).Weak(AafPid.Operation, AafPath.Operations, AafDictionary.Gain)
            .OwnVector(AafPid.InputSegments, [AafMobs.Clip(AafDictionary.Sound, 500, Id(9), 1, -1_000_000)])
            .OwnSet(AafPid.Parameters, AafPid.DefinitionId, [(AafDictionary.Amplitude.ToByteArray(), parameter)]);
        var (composition, session) = Read(File(Sound("Sequence", -1).OwnVector(AafPid.Components, [Sound("Filler", long.MinValue), gain, Sound("Transition", -10), Sound("Filler", -3)])));
        Assert.Empty(SessionRules.Check(session));
        Assert.All(session.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips), c => Assert.True(c.SourceOffset >= 0 && c.GainDb == 0));
        Assert.All(composition.Tracks, t => Assert.True(t.Length.Sign >= 0));
    }

    [Fact]
    public void Names_that_climb_out_and_broken_text_stay_names()
    {
        var descriptor = new AafNode("PCMDescriptor").Ratio(AafPid.FileSampleRate, 48_000).Long(AafPid.FileLength, 100)
            .OwnVector(AafPid.Locators, [new AafNode("NetworkLocator").Text(AafPid.UrlString, "file:///../../etc/%2e%2e%2fpasswd")]);
        var mob = Mob("SourceMob", 1, AafMobs.Clip(AafDictionary.Sound, 100, AafIds.None, 0, 0));
        mob.Item2.Own(AafPid.EssenceDescription, descriptor).Data(AafPid.MobName, [0x2E, 0, 0x2E, 0, 0x2F, 0, 0x00, 0xD8, 0x41, 0, 0x5C, 0]);
        var (composition, session) = Read(File(AafMobs.Clip(AafDictionary.Sound, 100, Id(1), 1, 0), mob));
        Assert.Single(composition.Media);
        Assert.All(session.Media.SelectMany(m => m.Identifiers.Skip(1).Append(m.FileName)), n => Assert.DoesNotContain(n, c => c is '/' or '\\'));
    }

    [Fact]
    public void A_billion_claimed_elements_are_as_many_as_there_are()
    {
        var bytes = File(Sound("Sequence", 10).OwnVector(AafPid.Components, [Sound("Filler", 4), Sound("Filler", 6)]));
        var index = new byte[20];
        BinaryPrimitives.WriteUInt32LittleEndian(index, 2);
        BinaryPrimitives.WriteUInt32LittleEndian(index.AsSpan(4), 2);
        BinaryPrimitives.WriteUInt32LittleEndian(index.AsSpan(8), uint.MaxValue);
        BinaryPrimitives.WriteUInt32LittleEndian(index.AsSpan(16), 1);
        var at = bytes.AsSpan().IndexOf(index);
        Assert.True(at > 0);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(at), 1_000_000_000);
        Assert.Equal(10, Read(bytes).Composition.Tracks[0].Length.RoundToEven());
    }

    [Theory]
    [InlineData("a size beyond the file")]
    [InlineData("a directory that comes back to itself")]
    [InlineData("sectors that two streams have")]
    [InlineData("a chain that ends early")]
    public void A_broken_container_is_a_clear_error_or_a_part(string what)
    {
        var essence = AafRoundTripTests.Essence(ClipSessions.Make(4), 4);
        var bytes = AafRoundTripTests.Write(ClipSessions.Make(4), essence, new AafForm());
        var name = Encoding.Unicode.GetBytes(what == "a directory that comes back to itself" ? "Content-3b03" : "Data-2702");
        byte[] ended = [.. name, 0, 0];
        var at = bytes.AsSpan().IndexOf(ended);
        at = at < 0 ? bytes.AsSpan().IndexOf(Encoding.Unicode.GetBytes("Mobs-1901 index")) : at;
        Assert.True(at > 0);
        var entry = bytes.AsSpan(at, 128);
        switch (what)
        {
            case "a size beyond the file":
                BinaryPrimitives.WriteInt64LittleEndian(entry[120..], 1L << 40);
                break;
            case "a directory that comes back to itself":
                BinaryPrimitives.WriteInt32LittleEndian(entry[76..], 0);
                break;
            case "sectors that two streams have":
                BinaryPrimitives.WriteUInt32LittleEndian(entry[116..], BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(48)));
                break;
            default:
                BinaryPrimitives.WriteUInt32LittleEndian(entry[116..], 0xFFFFFFFE);
                break;
        }

        try
        {
            using var stream = new MemoryStream(bytes);
            var document = AafDocument.Open(stream, "x.aaf");
            var media = document.Read().Media;
            foreach (var essenceStream in media.Keys.Select(document.OpenEssence).OfType<Stream>())
            {
                essenceStream.CopyTo(Stream.Null);
            }
        }
        catch (BadInputException problem)
        {
            Assert.Matches("^(compound|aaf|clips)\\.", problem.Code.Id);
            return;
        }

        Assert.NotEqual("a size beyond the file", what);
    }
}
