using System.Buffers.Binary;
using System.IO.Compression;
using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What was sent as an AAF, and comes back with its sound under other names, at another depth, cut shorter, or in other files.</summary>
public sealed class ArrivalSoundTests(DemoSession demo) : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-arrival-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private LoadedSession Sent()
    {
        var plan = demo.Plan(p => p with { Clips = Choose.Aaf with { MonoOnly = false }, Tracks = [.. p.Tracks.Select(t => t.Treatment == Treatment.PrintDry ? t with { Treatment = Treatment.KeepClips } : t)] });
        ZipFile.ExtractToDirectory(demo.Build(plan), Path.Combine(_folder, "sent"));
        var path = Directory.EnumerateFiles(Path.Combine(_folder, "sent"), "*.*", SearchOption.AllDirectories).Single(f => SessionConvert.IsClips(f));
        return SessionLoader.Load(path, Path.Combine(_folder, "scratch"));
    }

    /// <summary>The same sound in files of 16 bits that are called by numbers, each from some sample on.</summary>
    private LoadedSession Other(LoadedSession sent, Func<Media, long> from, Func<Session, Session> change)
    {
        var files = new Dictionary<string, IStoredFile>();
        var media = new List<Media>();
        var (names, cuts) = (new Dictionary<string, string>(), new Dictionary<string, long>());
        foreach (var (medium, i) in sent.Session.Media.Select((m, i) => (m, i)))
        {
            var (id, path) = ($"new-{i}", Path.Combine(_folder, $"{Guid.NewGuid():N}.wav"));
            (names[medium.Id], cuts[medium.Id]) = (id, Math.Min(from(medium), sent.Session.Tracks.SelectMany(t => t.Lanes[0].Clips).Where(c => c.Media == medium.Id).Min(c => c.SourceOffset)));
            using var source = SoundFile.Open(sent.Media.FileOf(medium)!, medium.FileName).Source;
            var length = Write(path, source, cuts[medium.Id]);
            media.Add(new Media { Id = id, FileName = Path.GetFileName(path), Rate = medium.Rate, Channels = medium.Channels, Length = length, Encoding = Core.Sound.SampleEncoding.Integer16 });
            files[id] = new DiskFile(path);
        }

        var random = new Random(5);
        var renamed = sent.Session with
        {
            Media = [.. media.OrderBy(_ => random.Next())],
            Tracks = [.. sent.Session.Tracks.OrderBy(_ => random.Next()).Select((t, n) => t with { Id = $"o{n}", Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select((c, k) => c with { Id = $"{n}/{k}", Media = names[c.Media], SourceOffset = c.SourceOffset - cuts[c.Media] })] })] })],
        };
        return new LoadedSession(change(renamed), new Given(files, Path.Combine(_folder, "scratch")), []);
    }

    private static long Write(string path, Audio.Sources.ISampleSource source, long from)
    {
        var (count, channels) = ((int)(source.Length - from), source.Channels);
        var samples = Enumerable.Range(0, channels).Select(_ => new double[count]).ToArray();
        source.Read(from, count, samples);
        var bytes = new byte[44 + (count * channels * 2)];
        "RIFF"u8.CopyTo(bytes);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(4), bytes.Length - 8);
        "WAVEfmt "u8.CopyTo(bytes.AsSpan(8));
        foreach (var (at, value) in new[] { (16, 16), (24, source.Rate.HeaderHz), (28, source.Rate.HeaderHz * channels * 2), (40, count * channels * 2) })
        {
            BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(at), value);
        }

        foreach (var (at, value) in new (int, short)[] { (20, 1), (22, (short)channels), (32, (short)(channels * 2)), (34, 16) })
        {
            BinaryPrimitives.WriteInt16LittleEndian(bytes.AsSpan(at), value);
        }

        "data"u8.CopyTo(bytes.AsSpan(36));
        for (var i = 0; i < count * channels; i++)
        {
            BinaryPrimitives.WriteInt16LittleEndian(bytes.AsSpan(44 + (2 * i)), (short)Math.Clamp(Math.Round(samples[i % channels][i / channels] * 32768), -32768, 32767));
        }

        File.WriteAllBytes(path, bytes);
        return count;
    }

    private static LoadedSide Side(LoadedSession session) => new(new ArrivalSide(session.Session, null, true), session, []);

    private static ArrivalReport Compared(LoadedSession sent, LoadedSession found) => Arrival.Compare(SentPackage.Whole(Side(sent)), Side(found), _ => { }, CancellationToken.None);

    // One of the cello's clips, by its number.
    private static Session With(Session session, Func<int, Clip, Clip?> change) =>
        session with { Tracks = [.. session.Tracks.Select(t => t.Name.Contains("Cello", StringComparison.Ordinal) ? t with { Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select((c, i) => change(i, c)).OfType<Clip>()] })] } : t)] };

    [Fact]
    public void The_same_sound_under_other_names_at_16_bits_is_known_again()
    {
        var sent = Sent();
        var report = Compared(sent, Other(sent, _ => 0, s => s));
        Assert.True(report.IsSame, $"{report.Verdict} {report.BasisWords} {string.Join("; ", report.Rows.Take(5))}");
        Assert.True(report.Bases[ArrivalBasis.Sound] > 200, report.BasisWords);
    }

    [Fact]
    public void Files_that_begin_later_are_found_in_the_sound_that_was_sent_to_the_sample()
    {
        var sent = Sent();
        var longest = sent.Session.Media.OrderByDescending(m => m.Length).Take(3).Select(m => m.Id).ToHashSet();
        var report = Compared(sent, Other(sent, m => longest.Contains(m.Id) ? 12_345 : 0, s => With(s, (i, c) => i == 1 ? c with { Start = c.Start + 3 } : c)));
        var row = Assert.Single(report.Rows);
        Assert.Equal(("start", "+3"), (row.What, row.Difference));
        Assert.Empty(report.Causes);
        Assert.Equal(0, report.Missing);
    }

    [Fact]
    public void Clips_that_play_another_place_or_are_gone_are_named()
    {
        var sent = Sent();
        var report = Compared(sent, Other(sent, _ => 0, s => With(s, (i, c) => i == 1 ? null : i == 3 ? c with { SourceOffset = c.SourceOffset + 480 } : c)));
        Assert.Equal(["place in its sound +480", "whole clip missing"], report.Rows.Select(r => $"{r.What} {r.Difference}").Order(StringComparer.Ordinal));
        Assert.All(report.Rows, r => Assert.Contains("Cello", r.Subject, StringComparison.Ordinal));
    }

    [Fact]
    public void A_format_s_own_reading_of_what_it_was_sent_differs_in_nothing_but_what_it_lacks()
    {
        var sent = Sent();
        var path = Path.Combine(_folder, "again.otio");
        SessionConvert.Write(sent, SessionConvert.Prepared(sent, path, null, string.Empty), path, DemoSession.Maker, CancellationToken.None);
        var report = Compared(sent, SessionLoader.Load(path, Path.Combine(_folder, "scratch")));
        Assert.Equal(0, report.Missing);
        Assert.All(report.Dots, d => Assert.Equal(0, d.Offset));
    }

    private sealed class Given(Dictionary<string, IStoredFile> files, string scratch) : IMediaFiles
    {
        public string Scratch => scratch;

        public IStoredFile? FileOf(Media media) => files.GetValueOrDefault(media.Id);
    }
}
