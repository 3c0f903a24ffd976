using CsCheck;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Sessions;
using System.Text;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Omf;
using Lyrotrans.Formats.Omf.Writing;

namespace Lyrotrans.Formats.Tests;

/// <summary>OMF files that were damaged or made to do harm: a clear error or a partial result with findings, and nothing else.</summary>
public class OmfHostileTests
{
    private const long MostBytes = 400L << 20;

    /// <summary>A file of one track, whose segment the test makes.</summary>
    private static byte[] Make(Func<OmfBuilder, OmfMobs, uint> segment, bool twice = false)
    {
        var build = new OmfBuilder();
        var mobs = new OmfMobs(build, new Dictionary<string, MediaEssence>());
        var composition = mobs.Mob("CMOB", "6c79726f0000000000000001", "suite", [mobs.Slot(1, "Horn", 1, 48000, segment(build, mobs))]);
        var other = twice ? mobs.Mob("CMOB", "6c79726f0000000000000002", "another", [mobs.Slot(1, "Horn", 1, 48000, segment(build, mobs))]) : 0;
        build.Class(1, "HEAD");
        build.Bytes(1, "OMFI:HEAD:Version", "omfi:VersionType", [2, 1]);
        build.Refer(1, "OMFI:HEAD:Mobs", twice ? [composition, other] : [composition]);
        build.Refer(1, "OMFI:HEAD:ClassDictionary", build.Dictionary());
        using var output = new MemoryStream();
        build.Container.Write(output);
        return output.ToArray();
    }

    private static EditComposition Read(byte[] bytes)
    {
        var before = GC.GetAllocatedBytesForCurrentThread();
        var composition = OmfDocument.Open(new MemoryStream(bytes), "x.omf").Read();
        EditImport.Make(composition);
        Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 0, MostBytes);
        return composition;
    }

    [Fact]
    public void A_sequence_that_holds_itself_ends_with_a_finding()
    {
        var found = Read(Make((build, _) =>
        {
            var sequence = build.Segment("SEQU", "Sound", 100);
            build.Refer(sequence, "OMFI:SEQU:Components", [sequence, sequence]);
            return sequence;
        }));
        Assert.Contains(found.Findings, f => f.Text.Contains("come back to themselves", StringComparison.Ordinal));
    }

    [Fact]
    public void A_composition_that_refers_to_itself_ends_with_a_finding()
    {
        var found = Read(Make((build, mobs) => mobs.Clip("Sound", 1000, "6c79726f0000000000000001", 1, 0)));
        Assert.Contains(found.Findings, f => f.Text.Contains("come back to themselves", StringComparison.Ordinal));
        Assert.Empty(found.Tracks[0].Clips);
    }

    [Fact]
    public void Nesting_ten_thousand_deep_ends_with_a_finding()
    {
        var found = Read(Make((build, mobs) =>
        {
            var inner = mobs.Clip("Sound", 10, "6c79726f0000000000000009", 1, 0);
            for (var i = 0; i < 10_000; i++)
            {
                var scope = build.Segment("NEST", "Sound", 10);
                build.Refer(scope, "OMFI:NEST:Slots", [inner]);
                inner = scope;
            }

            return inner;
        }));
        Assert.Contains(found.Findings, f => f.Text.Contains("nested deeper", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void References_that_multiply_end_with_a_finding(bool twice)
    {
        var found = Read(Make((build, _) =>
        {
            var inner = build.Segment("FILL", "Sound", 1);
            for (var i = 0; i < 60; i++)
            {
                var sequence = build.Segment("SEQU", "Sound", 1);
                build.Refer(sequence, "OMFI:SEQU:Components", Enumerable.Repeat(inner, 40).ToList());
                inner = sequence;
            }

            return inner;
        }, twice));
        Assert.Equal(twice ? 1 : 0, found.Others.Count);
        Assert.Contains(found.Findings, f => f.Text.Contains("far more than the file has", StringComparison.Ordinal));
    }

    [Fact]
    public void Scopes_converters_and_unknown_effects_are_followed()
    {
        var found = Read(Make((build, mobs) =>
        {
            // A clip of 2 frames at 25 a second, from its first frame on, in a track of samples.
            var frames = mobs.Clip("Sound", 2, "6c79726f0000000000000009", 1, 5);
            var converter = build.Segment("ERAT", "Sound", 1920);
            build.Refer(converter, "OMFI:ERAT:InputSegment", frames);
            build.Ratio(converter, "OMFI:ERAT:InputEditRate", (Rational)25);
            build.Units(converter, "OMFI:ERAT:InputOffset", "Position", 1);
            var reference = build.Segment("SREF", "Sound", 1920);
            build.Whole(reference, "OMFI:SREF:RelativeScope", "omfi:UInt32", 0);
            build.Whole(reference, "OMFI:SREF:RelativeSlot", "omfi:UInt32", 1);
            var effect = build.Segment("EFFE", "Sound", 1920);
            build.Refer(effect, "OMFI:EFFE:EffectKind", build.Effect("Flange"));
            var argument = build.Object("ESLT");
            build.Refer(argument, "OMFI:ESLT:ArgValue", reference);
            build.Refer(effect, "OMFI:EFFE:EffectSlots", [argument]);
            var scope = build.Segment("NEST", "Sound", 1920);
            build.Refer(scope, "OMFI:NEST:Slots", [converter, effect]);
            return scope;
        }));
        var clip = Assert.Single(found.Tracks[0].Clips);
        Assert.Equal((0, 1920, 6 * 1920), (clip.Start.RoundToEven(), clip.Length.RoundToEven(), clip.SourceOffset.RoundToEven()));
        Assert.Contains(found.Findings, f => f.Text.Contains("omfi:effect:Flange", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("K\u00E4fig", "utf-8", "K\u00E4fig", null)]
    [InlineData("K\u00E4fig", "latin1", "K\u00E4fig", "Latin-1")]
    [InlineData("K\u00E4fig", "macintosh", "K\u00E4fig", "Mac Roman")]
    public void Names_are_read_as_they_are_coded(string text, string coding, string read, string? said)
    {
        var encoding = coding == "macintosh" ? CodePagesEncodingProvider.Instance.GetEncoding(10000)! : Encoding.GetEncoding(coding);
        var texts = OmfText.Of([encoding.GetBytes(text), "plain"u8.ToArray()]);
        Assert.Equal(read, texts.Decode([.. encoding.GetBytes(text), 0, 65]));
        Assert.Equal(said is not null, texts.Finding is not null);
        Assert.Contains(said ?? string.Empty, texts.Finding?.Text ?? string.Empty, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("v1-big-aiff")]
    [InlineData("v1-little")]
    [InlineData("v2-big-toc2")]
    [InlineData("v2-little-toc1")]
    [InlineData("v2-linked")]
    public void Damage_is_a_clear_error_or_a_partial_result(string name)
    {
        var good = File.ReadAllBytes(Fixtures.Path($"omf/{name}.omf"));
        var damage = new Damage();
        Gen.Select(Gen.Int[0, int.MaxValue - 1], Gen.Int[1, 20]).Sample(
            (seed, count) =>
            {
                var (bytes, random) = ((byte[])good.Clone(), new Random(seed));
                for (var i = 0; i < count; i++)
                {
                    // Most of the file is sound; the table at its end is where damage shows.
                    bytes[random.Next(Math.Max(0, bytes.Length - 14_000), bytes.Length)] = (byte)random.Next(256);
                }

                damage.Take(
                    () => EditImport.Make(Read(random.Next(10) == 0 ? bytes[random.Next(bytes.Length)..] : bytes)).Session,
                    session => Assert.Equal(session, SessionDocumentReader.Read(new MemoryStream(SessionDocumentWriter.Write(session)), "kept.json")));
            },
            iter: Cases.Of(120));
        damage.BothHappened();
    }
}
