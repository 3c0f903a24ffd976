using System.IO.Compression;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A package that was sent, held to what its receiver made of it: its file of clips, its files of sound, its MIDI, or all of them.</summary>
public sealed class ArrivalPackageTests(DemoSession demo) : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-arrived-package-").FullName;
    private DeliveryPlan _plan = null!;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private string Package => Path.Combine(_folder, "package");

    private string Scratch => Path.Combine(_folder, "scratch");

    private SentPackage Sent(bool clips = true, Func<Preparation, Preparation>? change = null)
    {
        _plan = demo.Plan(p =>
        {
            var kept = clips ? p with { Clips = Choose.Aaf with { MonoOnly = false }, Tracks = [.. p.Tracks.Select(t => t.Treatment == Treatment.PrintDry ? t with { Treatment = Treatment.KeepClips } : t)] } : p;
            return change?.Invoke(kept) ?? kept;
        });
        ZipFile.ExtractToDirectory(demo.Build(_plan), Package);
        var files = Directory.EnumerateFiles(Package, "*", SearchOption.AllDirectories)
            .Select(f => new KeptFile(Path.GetRelativePath(Package, f).Replace('\\', '/'), new FileInfo(f).Length, string.Empty, new DiskFile(f))).ToList();
        return SentPackage.Of(files, _plan, Scratch, CancellationToken.None);
    }

    /// <summary>A folder with some of the package's files, as if exported again.</summary>
    private string Back(Func<string, bool> which)
    {
        var folder = Directory.CreateDirectory(Path.Combine(_folder, "back")).FullName;
        foreach (var file in Directory.EnumerateFiles(Package, "*", SearchOption.AllDirectories).Where(f => which(Path.GetRelativePath(Package, f))))
        {
            File.Copy(file, Path.Combine(folder, Path.GetFileName(file)));
        }

        return folder;
    }

    private ArrivalReport Compared(SentPackage sent, string folder) => Arrival.Compare(sent, LoadedSide.Load(folder, Scratch), _ => { }, CancellationToken.None);

    private static bool IsMidi(string path) => path.EndsWith(".mid", StringComparison.Ordinal);

    private static string All(ArrivalReport report) => $"{report.Verdict} {report.BasisWords} {string.Join("; ", report.Rows.Take(8))} {string.Join("; ", report.Added.Take(5))}";

    [Fact]
    public void A_file_of_clips_and_MIDI_that_come_back_as_they_went_differ_in_nothing()
    {
        var sent = Sent();
        var report = Compared(sent, Back(f => SessionConvert.IsClips(f) || IsMidi(f)));
        Assert.True(report.IsSame, All(report));
        Assert.Empty(report.NotCompared);
        Assert.True(report.Dots.Count > 200);
    }

    [Fact]
    public void Files_from_the_start_that_come_back_as_they_went_differ_in_nothing_and_none_is_missed_that_may_be_left_out()
    {
        var sent = Sent(clips: false);
        var report = Compared(sent, Back(f => f.Contains("audio", StringComparison.Ordinal)));
        Assert.True(report.IsSame, All(report));
        Assert.Contains(report.NotCompared, n => n.Contains("notes", StringComparison.Ordinal));
    }

    [Fact]
    public void A_file_from_the_start_that_was_moved_and_one_that_is_gone_are_named()
    {
        var sent = Sent(clips: false);
        var folder = Back(f => f.Contains("audio", StringComparison.Ordinal));
        var files = Directory.EnumerateFiles(folder, "*Horn*").Order(StringComparer.Ordinal).ToList();
        File.Delete(files[0]);
        Written(files[1], s => new CutSource(s, -480, s.Length + 480));
        var report = Compared(sent, folder);
        Assert.Equal(1, report.Missing);
        Assert.Contains(report.Rows, r => r is { What: "start", Difference: "+480" } && r.Subject.Contains("Horn", StringComparison.Ordinal));
        Assert.True(report.Rows.Count == 2, All(report));
    }

    [Fact]
    public void Clips_are_found_in_files_from_the_start_that_were_made_of_whole_tracks_and_the_one_that_was_moved_is_named()
    {
        // Sent as clips; the other side prints its tracks, 1000 samples late, and one clip of the cello another 77.
        var sent = Sent();
        var session = sent.Sent.Session;
        var folder = Directory.CreateDirectory(Path.Combine(_folder, "back")).FullName;
        var moved = string.Empty;
        foreach (var track in session.Tracks.Where(t => !sent.Sent.IsFile(t) && (t.Name.Contains("Cello", StringComparison.Ordinal) || t.Name.Contains("Timpani", StringComparison.Ordinal))))
        {
            var isCello = track.Name.Contains("Cello", StringComparison.Ordinal);
            var clips = track.Lanes[0].Clips.Select((c, i) => isCello && i == 1 ? c with { Start = c.Start + 77, Name = moved = c.Name } : c).ToList();
            Print(Path.Combine(folder, $"{track.Name} mixed.wav"), session, sent.Media, clips, 1000);
        }

        var report = Compared(sent, folder);
        Assert.Contains($"Everything is {Digits.Grouped(1000)} samples late.", report.Causes);
        Assert.Contains(report.Rows, r => r is { What: "start", Difference: "+77" } && r.Subject.EndsWith(moved, StringComparison.Ordinal));
        var gone = report.Rows.Where(r => r.Found == ArrivalComparison.NotThere).ToList();
        Assert.DoesNotContain(gone, r => r.Subject.Contains("Cello", StringComparison.Ordinal) || r.Subject.Contains("Timpani", StringComparison.Ordinal));
        Assert.Single(report.Rows, r => r.What == "start");
    }

    [Fact]
    public void A_file_that_is_itself_up_to_its_middle_alone_is_not_taken_for_what_was_sent()
    {
        var sent = Sent(clips: false);
        var folder = Back(f => f.Contains("audio", StringComparison.Ordinal));
        var piano = Directory.EnumerateFiles(folder, "*08_Piano*").Single();
        Silenced(piano, from: 0.5);
        var report = Compared(sent, folder);
        Assert.False(report.IsSame, All(report));
        Assert.Contains(report.Causes, c => c.Contains("Piano", StringComparison.Ordinal) && (c.EndsWith("is another than was sent.", StringComparison.Ordinal) || c.Contains("was changed", StringComparison.Ordinal)));
    }

    [Fact]
    public void Tempo_notes_and_their_velocities_are_compared_where_MIDI_comes_back()
    {
        var sent = Sent();
        var same = Compared(sent, Back(IsMidi));
        Assert.True(same.IsSame, All(same));
        Assert.Contains(same.NotCompared, n => n.Contains("clips", StringComparison.Ordinal));
        Assert.Equal("What was compared arrived as sent.", same.Verdict);

        // What lies beside MIDI and says no clip is no session without clips.
        File.WriteAllText(Path.Combine(_folder, "back", "read me.txt"), "exported on Tuesday");
        Assert.True(Compared(sent, Path.Combine(_folder, "back")).IsSame);
        Directory.EnumerateFiles(Path.Combine(_folder, "back"), "*.mid").ToList().ForEach(File.Delete);
        Assert.Throws<BadInputException>(() => LoadedSide.Load(Path.Combine(_folder, "back"), Scratch));
    }

    [Fact]
    public void A_file_with_the_old_name_and_another_sound_is_not_taken_for_what_was_sent()
    {
        var sent = Sent(clips: false);
        var folder = Back(f => f.Contains("audio", StringComparison.Ordinal));
        var (cello, narrator) = (Directory.EnumerateFiles(folder, "*Cello*").Single(), Directory.EnumerateFiles(folder, "*Narrator.*").Single());
        File.Copy(narrator, cello, overwrite: true);
        var report = Compared(sent, folder);
        Assert.False(report.IsSame, All(report));
        Assert.Contains(report.Rows, r => r.Subject.Contains("Cello", StringComparison.Ordinal) && r.Found == ArrivalComparison.NotThere);
        Backwards(cello);
        report = Compared(sent, folder);
        Assert.Contains(report.Causes, c => c.Contains("Cello", StringComparison.Ordinal) && c.EndsWith("is another than was sent.", StringComparison.Ordinal));
    }

    private static void Backwards(string path) => Changed(path, channel => [.. channel.AsEnumerable().Reverse()]);

    private static void Silenced(string path, double from) => Changed(path, channel => [.. channel.Select((s, i) => i < from * channel.Length ? s : 0)]);

    private static void Changed(string path, Func<double[], double[]> change)
    {
        double[][] samples;
        Core.Time.SampleRate rate;
        using (var source = SoundFile.Open(new DiskFile(path), Path.GetFileName(path)).Source)
        {
            samples = [.. Enumerable.Range(0, source.Channels).Select(_ => new double[source.Length])];
            source.Read(0, (int)source.Length, samples);
            rate = source.Rate;
        }

        Save(path, samples.Length, samples[0].Length, rate, (_, _, into) => samples.Zip(into).ToList().ForEach(p => change(p.First).CopyTo(p.Second, 0)));
    }

    private static void Written(string path, Func<ISampleSource, ISampleSource> change)
    {
        var to = $"{path}.new";
        using (var source = change(SoundFile.Open(new DiskFile(path), Path.GetFileName(path)).Source))
        {
            Save(to, source.Channels, source.Length, source.Rate, source.Read);
        }

        File.Move(to, path, overwrite: true);
    }

    private static void Print(string path, Session session, IMediaFiles files, List<Clip> clips, long late)
    {
        var media = session.Media.ToDictionary(m => m.Id);
        var length = clips.Max(c => c.End) + late + 4800;
        var sum = new double[1][] { new double[length] };
        foreach (var clip in clips.Where(c => !c.Muted && files.FileOf(media[c.Media]) is not null))
        {
            using var source = SoundFile.Open(files.FileOf(media[clip.Media])!, media[clip.Media].FileName).Source;
            var into = Enumerable.Range(0, source.Channels).Select(_ => new double[clip.Length]).ToArray();
            (source.Rate == session.Rate ? new CutSource(source, clip.SourceOffset, clip.Length) : (ISampleSource)new ConvertedSource(source, session.Rate, clip.SourceOffset)).Read(0, (int)clip.Length, into);
            for (var i = 0; i < clip.Length; i++)
            {
                var fade = Math.Min(1, Math.Min((i + 1.0) / Math.Max(1, clip.FadeIn.Length), (clip.Length - i) / (double)Math.Max(1, clip.FadeOut.Length)));
                sum[0][clip.Start + late + i] += into.Average(c => c[i]) * fade * Math.Pow(10, clip.GainDb / 20);
            }
        }

        Save(path, 1, length, session.Rate, (from, count, into) => sum[0].AsSpan((int)from, count).CopyTo(into[0]));
    }

    private static void Save(string path, int channels, long length, Core.Time.SampleRate rate, Action<long, int, double[][]> read)
    {
        var samples = Enumerable.Range(0, channels).Select(_ => new double[length]).ToArray();
        read(0, (int)length, samples);
        using var writer = new BinaryWriter(File.Create(path));
        writer.Write("RIFF"u8);
        writer.Write((int)(36 + (length * channels * 4)));
        writer.Write("WAVEfmt "u8);
        writer.Write(16);
        writer.Write((short)3);
        writer.Write((short)channels);
        writer.Write(rate.HeaderHz);
        writer.Write(rate.HeaderHz * channels * 4);
        writer.Write((short)(channels * 4));
        writer.Write((short)32);
        writer.Write("data"u8);
        writer.Write((int)(length * channels * 4));
        for (var i = 0; i < length; i++)
        {
            for (var c = 0; c < channels; c++)
            {
                writer.Write((float)samples[c][i]);
            }
        }
    }
}
