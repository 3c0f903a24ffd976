using Lyrotrans.Formats.Sessions;
using System.Text;
using CsCheck;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Omf;
using Lyrotrans.Formats.Omf.Writing;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Formats.Tests;

public sealed class OmfRoundTripTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-omf-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    /// <summary>Sound made of the place of each byte, inside as WAVE or AIFF, or beside.</summary>
    internal static Dictionary<string, MediaEssence> Essence(Session session, int seed)
    {
        var random = new Random(seed);
        return session.Media.ToDictionary(m => m.Id, m =>
        {
            var (beside, aiff) = (random.Next(3) == 0, random.Next(2) == 0);
            var layout = new PcmLayout(m.Encoding, aiff, m.Channels, m.Rate, 0, m.Length);
            var head = aiff ? AiffWriter.Head(layout) : WaveWriter.Head(layout);
            return new MediaEssence
            {
                MediaId = m.Id,
                FileName = m.FileName,
                Layout = layout,
                Head = head,
                IsAiff = aiff,
                BesidePath = beside ? $"media/{m.FileName}" : null,
                Bytes = head.Length + layout.DataBytes + (layout.DataBytes & 1),
                Write = stream =>
                {
                    stream.Write(head);
                    stream.Write(AafRoundTripTests.Sound(layout.DataBytes));
                    stream.Write((layout.DataBytes & 1) == 1 ? [0] : []);
                },
                Identity = m.FileName,
            };
        });
    }

    internal static byte[] Write(Session session, IReadOnlyDictionary<string, MediaEssence> essence, OmfForm form)
    {
        using var output = new MemoryStream();
        OmfWriter.Write(session, essence, form, output);
        return output.ToArray();
    }

    [Fact]
    public void What_was_written_comes_back_equal_and_writes_the_same_bytes() => Gen.Select(Gen.Int[0, int.MaxValue - 1], Gen.Bool).Sample(
        (seed, frames) =>
        {
            var session = FittedSessions.ForOmf(seed, frames ? 1920 : 1);
            var essence = Essence(session, seed);
            var form = new OmfForm { EditRate = frames ? new Rational(25, 1) : null };
            var bytes = Write(session, essence, form);
            Assert.Equal(bytes.Length, OmfWriter.SizeOf(session, essence, form));
            var document = OmfDocument.Open(new MemoryStream(bytes), "x.omf");
            var found = EditImport.Make(document.Read()).Session;
            Assert.Equal(session.Tracks.ToArray(), found.Tracks.ToArray());
            Assert.Equal(session.Media.ToArray(), found.Media.ToArray());
            Assert.Equal(session, found);
            foreach (var media in essence.Values.Where(e => e.BesidePath is null))
            {
                using var inside = document.OpenEssence(media.MediaId)!;
                var read = new byte[inside.Length];
                inside.ReadExactly(read);
                Assert.True(read.AsSpan(media.Head.Length, (int)media.Layout.DataBytes).SequenceEqual(AafRoundTripTests.Sound(media.Layout.DataBytes)));
            }

            return Write(found, essence, form).AsSpan().SequenceEqual(bytes);
        },
        iter: Cases.Of(100));

    [Fact]
    public void Fades_as_properties_come_back_with_their_shapes()
    {
        var made = FittedSessions.ForOmf(21);
        var session = made with
        {
            Tracks = Core.Collections.ValueArray.Create<Track>([.. made.Tracks.Select(t => t with
            {
                Lanes = [t.Lanes[0] with { Clips = Core.Collections.ValueArray.Create<Clip>([.. t.Lanes[0].Clips.Select((c, i) => c with { FadeIn = Plain(c.FadeIn, i), FadeOut = Plain(c.FadeOut, i + 1) })]) }],
            })]),
        };
        var found = EditImport.Make(OmfDocument.Open(new MemoryStream(Write(session, Essence(session, 1), new OmfForm { FadesAsProperties = true })), "x.omf").Read()).Session;
        Assert.Equal(session.Tracks.ToArray(), found.Tracks.ToArray());
        Assert.Contains(session.Tracks.SelectMany(t => t.Lanes[0].Clips), c => c.FadeIn.Shape == FadeShape.EqualPower);

        static Fade Plain(Fade fade, int i) => fade.Length == 0 || fade.Shape == FadeShape.Linear ? fade : new Fade(fade.Length, i % 2 == 0 ? FadeShape.EqualPower : FadeShape.Linear);
    }

    [Fact]
    public void The_checker_finds_nothing_wrong()
    {
        var paths = Enumerable.Range(0, 6).SelectMany(seed => new[] { Put(seed, new OmfForm(), 1), Put(seed, new OmfForm { FadesAsProperties = true, Comments = new Dictionary<string, string> { ["Scene"] = "2" } }, 1), Put(seed, new OmfForm { EditRate = 25 }, 1920) });
        foreach (var path in paths)
        {
            var (code, output, errors) = OtherProgram.Run("/usr/bin/python3", OtherProgram.Script("omf_check.py"), path);
            Assert.True(code == 0, Encoding.UTF8.GetString(output) + errors);
        }
    }

    [Theory]
    [InlineData("v2-big-toc1")]
    [InlineData("v2-big-toc2")]
    [InlineData("v2-frames")]
    [InlineData("v2-linked")]
    [InlineData("v2-little-toc1")]
    [InlineData("v2-little-toc2")]
    public void The_checker_finds_nothing_wrong_in_files_of_others(string name)
    {
        var (code, output, errors) = OtherProgram.Run("/usr/bin/python3", OtherProgram.Script("omf_check.py"), Fixtures.Path($"omf/{name}.omf"));
        Assert.True(code == 0, Encoding.UTF8.GetString(output) + errors);
    }

    [Theory]
    [InlineData("OMFI:SEQU:Components\0", "Components", "OMFI:SEQU:Componenta\0")]
    [InlineData("FILL", "class", "FILM")]
    public void The_checker_sees_what_is_wrong(string what, string says, string instead)
    {
        var path = Put(5, new OmfForm(), 1);
        var bytes = File.ReadAllBytes(path);
        var at = bytes.AsSpan().LastIndexOf(Encoding.ASCII.GetBytes(what));
        Assert.True(at > 0);
        Encoding.ASCII.GetBytes(instead).CopyTo(bytes.AsSpan(at));
        File.WriteAllBytes(path, bytes);
        var (code, output, _) = OtherProgram.Run("/usr/bin/python3", OtherProgram.Script("omf_check.py"), path);
        Assert.Equal(1, code);
        Assert.Contains(says, Encoding.UTF8.GetString(output), StringComparison.Ordinal);
    }

    private string Put(int seed, OmfForm form, int unit)
    {
        var session = FittedSessions.ForOmf(seed, unit);
        if (form.FadesAsProperties)
        {
            session = session with { Tracks = Core.Collections.ValueArray.Create<Track>([.. session.Tracks.Select(t => t with { Lanes = [t.Lanes[0] with { Clips = Core.Collections.ValueArray.Create<Clip>([.. t.Lanes[0].Clips.Select(c => c with { FadeIn = new Fade(c.FadeIn.Length), FadeOut = new Fade(c.FadeOut.Length) })]) }] })]) };
        }

        var path = Path.Combine(_folder, $"{seed}-{form.FadesAsProperties}-{unit}.omf");
        File.WriteAllBytes(path, Write(session, Essence(session, seed), form));
        return path;
    }
}
