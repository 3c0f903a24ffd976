using System.Text;
using CsCheck;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Aaf;
using Lyrotrans.Formats.Aaf.Writing;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Formats.Tests;

public class AafRoundTripTests
{
    /// <summary>Sound made of the place of each byte, so that a byte in the wrong place shows.</summary>
    internal static Dictionary<string, MediaEssence> Essence(Session session, int seed)
    {
        var random = new Random(seed);
        return session.Media.ToDictionary(m => m.Id, m =>
        {
            var how = random.Next(3);
            var layout = new PcmLayout(m.Encoding, false, m.Channels, m.Rate, 0, m.Length);
            var head = WaveWriter.Head(layout);
            return new MediaEssence
            {
                MediaId = m.Id,
                FileName = m.FileName,
                Layout = layout,
                Head = head,
                BesidePath = how == 0 ? $"media/{m.FileName}" : null,
                IsPlainSamples = how == 1,
                Bytes = layout.DataBytes + (how == 2 ? head.Length + (layout.DataBytes & 1) : 0),
                Write = stream =>
                {
                    stream.Write(how == 2 ? head : []);
                    stream.Write(Sound(layout.DataBytes));
                    stream.Write(how == 2 && (layout.DataBytes & 1) == 1 ? [0] : []);
                },
                Identity = m.FileName,
            };
        });
    }

    internal static byte[] Sound(long count)
    {
        var bytes = new byte[count];
        for (var i = 0; i < bytes.Length; i++)
        {
            bytes[i] = (byte)((i * 7) ^ (i >> 8));
        }

        return bytes;
    }

    internal static byte[] Write(Session session, IReadOnlyDictionary<string, MediaEssence> essence, AafForm form)
    {
        using var output = new MemoryStream();
        AafWriter.Write(session, essence, form, output);
        return output.ToArray();
    }

    private static Session Read(byte[] bytes) => EditImport.Make(AafDocument.Open(new MemoryStream(bytes), "x.aaf").Read()).Session;

    [Fact]
    public void What_was_written_comes_back_equal_and_writes_the_same_bytes() => Gen.Select(Gen.Int[0, int.MaxValue - 1], Gen.Bool, Gen.Bool).Sample(
        (seed, small, frames) =>
        {
            var session = ClipSessions.Make(seed, frames ? 1920 : 1);
            var essence = Essence(session, seed);
            var form = new AafForm { SectorBytes = small ? 512 : 4096, EditRate = frames ? new Rational(25, 1) : null };
            var bytes = Write(session, essence, form);
            Assert.Equal(bytes.Length, AafWriter.SizeOf(session, essence, form));
            Session expected = session, found = Read(bytes);
            Assert.Equal(expected.Tracks.ToArray(), found.Tracks.ToArray());
            Assert.Equal(expected.Media.ToArray(), found.Media.ToArray());
            Assert.Equal(expected.Markers.ToArray(), found.Markers.ToArray());
            Assert.Equal(expected, found);
            return Write(found, essence, form).AsSpan().SequenceEqual(bytes);
        },
        iter: Cases.Of(100));

    [Theory]
    [InlineData("MarkerUser", true)]
    [InlineData("MarkerDate", false)]
    public void Who_and_when_are_read_from_properties_that_the_file_defines_itself(string name, bool by)
    {
        // The annotation of the published model becomes a text of another name, and a marker's comment is put there.
        var session = ClipSessions.Make(11) with { Markers = [new Marker("m1", "from a property", 5)] };
        var bytes = Write(session, Essence(session, 11), new AafForm());
        var definition = Change(Encoding.Unicode.GetBytes("Annotation\0"), Encoding.Unicode.GetBytes(name + '\0'));
        Change(AafModel.Type("SourceReferenceStrongReference").Id.ToByteArray(), AafModel.Type("String").Id.ToByteArray(), definition);
        Change([0x02, 0x06, 0x82, 0x00], [0x01, 0x09, 0x82, 0x00]);
        int Change(byte[] before, byte[] after, int from = 0)
        {
            var at = from + bytes.AsSpan(from).IndexOf(before);
            Assert.True(at >= from && before.Length == after.Length);
            after.CopyTo(bytes, at);
            return at;
        }

        var found = Assert.Single(Read(bytes).Markers);
        Assert.Equal((string.Empty, by ? "from a property" : string.Empty, by ? string.Empty : "from a property"), (found.Text, found.By, found.Date));
    }

    public static TheoryData<string> Formats => new(SessionFormats.OfClips.Select(f => f.Id));

    [Theory]
    [MemberData(nameof(Formats))]
    public void What_was_planned_by_any_choices_is_found_as_it_was_meant(string format) => Planned((IClipFormat)SessionFormats.Get(format), Cases.Of(100));

    private static void Planned(IClipFormat format, int iterations) => Gen.Select(Gen.Int[0, int.MaxValue - 1], Gen.Int[0, 9], Gen.Int[0, 1023]).Sample(
        (seed, frames, bits) =>
        {
            bool Bit(int n) => (bits >> n & 1) == 1;
            var made = ClipSessions.Make(seed);
            var session = made with { Start = made.Start with { Frames = 1000 }, Picture = null };
            session = session with { Start = new Timecode(1000, FrameRate.All[frames]), Media = session.Media.Select(m => m with { Place = MediaPlace.Beside }).ToValueArray() };
            var preparation = Preparation.Default(session, format.Clips) with
            {
                Clips = new ClipChoices(format.Clips)
                {
                    FrameUnits = Bit(0),
                    Trimmed = Bit(1),
                    Handle = seed % 3000,
                    HandleUnit = (HandleUnit)(seed % 3),
                    MonoOnly = Bit(2),
                    RenderGain = Bit(3),
                    Fades = (FadeForm)(seed % 3),
                    Volume = (VolumeForm)(seed / 3 % 3),
                    Pan = (PanForm)(seed / 9 % 3),
                    Options = Options(format.Clips, seed),
                },
            };
            preparation = preparation with { Tracks = PreparationTreatment.OfAudio(preparation, session, Treatment.KeepClips) };
            var plan = ClipPlan.Make(session, preparation);
            Assert.Empty(SessionRules.Check(plan.Session));
            if (plan.Session.Tracks.Count == 0 || (Bit(0) && plan.Session.Media.Count == 0))
            {
                // Without any sound nothing in the file says a sampling rate, and there is nothing that needs one.
                return;
            }

            using var output = new MemoryStream();
            format.Write(new ClipFile(plan.Session, Beside(plan.Session), preparation.Clips, new Dictionary<string, string>()), output);
            output.Position = 0;
            Assert.Equal(format, ContentSniffer.FormatOf(output));
            var found = format.Open(output, $"x{format.Extension}").ReadSession().Session;
            var wrong = SessionComparison.Compare(plan.Session, found, HeldValues.OfClips).Where(r => !r.Passed).ToList();
            Assert.True(wrong.Count == 0, string.Join('\n', wrong.Take(5)));
        },
        iter: iterations);

    private static FormatChoices Options(ClipFormat format, int seed) =>
        format.Options.Aggregate(new FormatChoices(), (chosen, option) => chosen.With(option, option.Values[seed % option.Values.Count].Id));

    private static Dictionary<string, MediaEssence> Beside(Session session) => session.Media.ToDictionary(m => m.Id, m => new MediaEssence
    {
        MediaId = m.Id,
        FileName = m.FileName,
        Layout = new PcmLayout(m.Encoding, false, m.Channels, m.Rate, 0, m.Length),
        Head = WaveWriter.Head(new PcmLayout(m.Encoding, false, m.Channels, m.Rate, 0, m.Length)),
        BesidePath = m.FileName,
        Identity = m.FileName,
    });

    [Fact]
    public void Fades_as_properties_come_back_with_their_lengths()
    {
        var session = ClipSessions.Make(11) with { Markers = [] };
        var plain = session with
        {
            Tracks = session.Tracks.Select(t => t with
            {
                Lanes = t.Lanes.Select(l => l with
                {
                    Clips = l.Clips.Select(c => c with { FadeIn = new Fade(c.FadeIn.Length, c.FadeIn.Length % 2 == 0 ? FadeShape.Linear : FadeShape.EqualPower), FadeOut = new Fade(c.FadeOut.Length) }).ToValueArray(),
                }).ToValueArray(),
            }).ToValueArray(),
        };
        plain = plain with { Tracks = plain.Tracks.Select(t => t with { Lanes = t.Lanes.Select(l => l with { Clips = l.Clips.Select(c => c with { FadeIn = c.FadeIn.Length == 0 ? Fade.None : c.FadeIn }).ToValueArray() }).ToValueArray() }).ToValueArray() };
        var bytes = Write(plain, Essence(plain, 3), new AafForm { FadesAsProperties = true });
        Assert.Equal(plain.Tracks.ToArray(), Read(bytes).Tracks.ToArray());
        Assert.Contains(plain.Tracks.SelectMany(t => t.Lanes[0].Clips), c => c.FadeIn.Length > 0);
    }

    [Fact]
    public void Sound_inside_comes_out_as_it_went_in() => Gen.Int[0, 10_000].Sample(
        seed =>
        {
            var session = ClipSessions.Make(seed);
            var essence = Essence(session, seed);
            using var stream = new MemoryStream(Write(session, essence, new AafForm { SectorBytes = seed % 2 == 0 ? 512 : 4096 }));
            foreach (var own in essence.Values.Where(e => e.BesidePath is null))
            {
                using var meant = new MemoryStream();
                own.Write(meant);
                using var found = AafDocument.Open(stream, "x.aaf").OpenEssence(own.MediaId)!;
                using var copy = new MemoryStream();
                found.CopyTo(copy);
                Assert.True(copy.ToArray().AsSpan().SequenceEqual(meant.ToArray()));
            }
        },
        iter: 20);

    [Fact]
    public void A_gain_is_within_a_millionth_of_a_decibel() => Gen.Double[-143, 40].Sample(decibels =>
    {
        var ratio = Ratio32.OfDecibels(decibels);
        return Math.Abs(Decibels.FromRatio((double)ratio.Numerator / ratio.Denominator) - decibels) < 1e-6;
    });
}
