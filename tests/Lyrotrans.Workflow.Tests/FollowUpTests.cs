using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Following;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What is new or changed since a package, sent without the rest.</summary>
public sealed class FollowUpTests(DemoSession demo) : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-follow-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private string Scratch => Path.Combine(_folder, "scratch");

    /// <summary>A package of some of the prints, with a click.</summary>
    private DeliveryPlan Plan(Func<TrackChoice, int, TrackChoice>? change = null, Func<Preparation, Preparation>? also = null) => demo.Plan(p =>
    {
        var prints = 0;
        var some = p with { Click = p.Click with { Print = true }, Mix = new MixChoices(), Tracks = [.. p.Tracks.Select(t => t.Treatment == Treatment.PrintDry && ++prints <= 4 ? change?.Invoke(t, prints) ?? t : t with { Treatment = Treatment.HoldBack })] };
        return also?.Invoke(some) ?? some;
    });

    private static (Manifest Manifest, IReadOnlyList<(string Path, long Bytes, string Sha256)> Files) Read(string zip)
    {
        using var reader = PackageReader.Open(new DiskFile(zip), "package.zip");
        return (reader.Manifest, [.. reader.Paths.Select(p => (p, reader.SizeOf(p), reader.Sha256Of(p)))]);
    }

    /// <summary>Builds a package that follows another one, and the zip that is sent of it.</summary>
    private (FollowUp List, string Sent, string Whole) Follow(string before, DeliveryPlan plan) => Made(demo, _folder, before, plan);

    /// <summary>A follow-up as it is sent, and the SHA-256 of the manifest of what it follows.</summary>
    internal static (string Sent, string Follows) Follow(DemoSession demo, string into, string before, DeliveryPlan plan)
    {
        var (list, sent, _) = Made(demo, into, before, plan);
        return (sent, list.Follows);
    }

    private static (FollowUp List, string Sent, string Whole) Made(DemoSession demo, string into, string before, DeliveryPlan plan)
    {
        var folder = Directory.CreateDirectory(Path.Combine(into, Guid.NewGuid().ToString("N"))).FullName;
        var (manifest, package) = PackageFile.BuildInto(plan, demo.Loaded.Media, folder, DemoSession.Maker, _ => { }, CancellationToken.None);
        var (whole, sent) = (Path.Combine(folder, "whole.zip"), Path.Combine(folder, "sent.zip"));
        Write(package.Zip(Path.Combine(into, "scratch")).Open(), whole);
        var contents = package.Contents;
        string Manifested(IReadOnlyList<(string Path, long Bytes, string Sha256)> files) => files.Single(f => f.Path.EndsWith("/manifest.json", StringComparison.Ordinal)).Sha256;
        var now = (manifest, Files: (IReadOnlyList<(string Path, long Bytes, string Sha256)>)[.. contents.Files.Select(f => (f.Path, f.Bytes, f.Sha256))]);
        var list = new FollowUp(Manifested(Read(before).Files), 7, Manifested(now.Files), DemoSession.Stamp.AddDays(3), FollowUp.Compare(Read(before), now));
        var follow = FollowUpPackage.Of(list, contents, DemoSession.Maker.Key);
        Write(new PackageZip(follow.Contents, sha => follow.Own.TryGetValue(sha, out var own) ? new BytesFile(own) : new DiskFile(package.Places[sha]), Path.Combine(into, "scratch")).Open(), sent);
        return (list, sent, whole);
    }

    private static void Write(Stream from, string path)
    {
        using (from)
        using (var to = File.Create(path))
        {
            from.CopyTo(to);
        }
    }

    private sealed class BytesFile(byte[] bytes) : Core.Storing.IStoredFile
    {
        public long Length => bytes.Length;

        public Stream Open() => new MemoryStream(bytes, writable: false);

        public Core.Storing.LocalFile Local() => throw new NotSupportedException();
    }

    private static IReadOnlyDictionary<string, FollowedState> Sounds(FollowUp list) => list.Files.Where(f => f.Path.EndsWith(".wav", StringComparison.Ordinal)).ToDictionary(f => Path.GetFileName(f.Path), f => f.State);

    private static string All(FollowUp list) => string.Join("; ", list.Files.Select(f => $"{Path.GetFileName(f.Path)} {f.State} {f.Bytes}"));

    private string Changed(string sent, Func<string, byte[], byte[]?> change)
    {
        var path = Path.Combine(_folder, $"{Guid.NewGuid():N}.zip");
        using var from = ZipFile.OpenRead(sent);
        using var to = ZipFile.Open(path, ZipArchiveMode.Create);
        foreach (var entry in from.Entries)
        {
            using var input = entry.Open();
            using var bytes = new MemoryStream();
            input.CopyTo(bytes);
            if (change(entry.Name, bytes.ToArray()) is { } kept)
            {
                using var output = to.CreateEntry(entry.FullName, CompressionLevel.NoCompression).Open();
                output.Write(kept);
            }
        }

        return path;
    }

    private BadInputException Refused(string path, params string[] before) =>
        Assert.Throws<BadInputException>(() => FileProof.Check(path, DemoSession.Known, Scratch, _ => { }, CancellationToken.None, before));

    [Fact]
    public void Only_what_is_new_or_changed_is_sent_and_with_what_is_there_it_is_the_whole_package_to_the_byte()
    {
        var (first, now) = (Plan(), Plan((t, n) => n == 2 ? t with { Inverted = true } : n == 3 ? t with { Treatment = Treatment.HoldBack } : t));
        var before = demo.Build(first);
        var (list, sent, whole) = Follow(before, demo.Plan(_ => KeptNames.Of(first, now, demo.Loaded.Session, now.Preparation)!));
        var sounds = Sounds(list);
        Assert.True((3, 1) == (sounds.Count(s => s.Value == FollowedState.AsBefore), sounds.Count(s => s.Value == FollowedState.Replaced)), All(list));
        Assert.Contains(sounds, s => s.Value == FollowedState.Gone);
        using (var zip = ZipFile.OpenRead(sent))
        {
            Assert.Equal(list.Files.Where(FollowUp.IsSent).Select(f => f.Path).Order(StringComparer.Ordinal), zip.Entries.Where(e => !FollowUp.OwnNames.Contains(e.Name)).Select(e => e.FullName).Order(StringComparer.Ordinal));
            Assert.True(new FileInfo(sent).Length < new FileInfo(whole).Length / 2);
        }

        // As its receiver does it: one folder, the follow-up over it, what is gone deleted, the sums held.
        var folder = Path.Combine(_folder, "received");
        ZipFile.ExtractToDirectory(before, folder);
        ZipFile.ExtractToDirectory(sent, folder, overwriteFiles: true);
        var package = Directory.GetDirectories(folder).Single();
        foreach (var gone in list.Files.Where(f => f.State == FollowedState.Gone))
        {
            File.Delete(Path.Combine(folder, gone.Path));
        }

        foreach (var line in File.ReadLines(Path.Combine(package, "SHA256SUMS")))
        {
            Assert.Equal(line[..64], Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(Path.Combine(package, line[66..])))));
        }

        var merged = FileProof.Check(package, DemoSession.Known, Scratch, _ => { }, CancellationToken.None);
        Assert.True(merged.IsWhole, string.Join("; ", merged.Rows.Where(r => !r.Passed)));
        var checkedWhole = FileProof.Check(sent, DemoSession.Known, Scratch, _ => { }, CancellationToken.None, [before]);
        Assert.True(checkedWhole.IsWhole, string.Join("; ", checkedWhole.Rows.Where(r => !r.Passed)));
        var united = new MemoryStream();
        UnitedPackage.Write(new DiskFile(before), new DiskFile(sent), "sent.zip", united, CancellationToken.None);
        using var a = new ZipArchive(united);
        using var b = ZipFile.OpenRead(whole);
        Assert.Equal(b.Entries.Select(e => e.FullName), a.Entries.Select(e => e.FullName));
        Assert.All(a.Entries.Zip(b.Entries), e => Assert.Equal(e.Second.Crc32, e.First.Crc32));
    }

    [Fact]
    public void Both_together_are_proved_against_the_session()
    {
        var before = demo.Build(Plan());
        var plan = Plan((t, n) => n == 1 ? t with { Inverted = true } : t);
        var (_, sent, _) = Follow(before, plan);
        var report = FileProof.Prove(sent, demo.Loaded, Scratch, _ => { }, CancellationToken.None, plan.Preparation, null, DemoSession.Known, [before]);
        Assert.True(report.Passed, $"{report.Verdict} {string.Join("; ", report.Rows.Where(r => !r.Passed).Take(5))}");
        Assert.Contains(report.Rows, r => r.What == "every byte" && r.Passed);
    }

    [Fact]
    public void A_follow_up_to_a_follow_up_stands_on_both()
    {
        var first = demo.Build(Plan());
        var (_, second, wholeSecond) = Follow(first, Plan((t, n) => n == 1 ? t with { Inverted = true } : t));
        var (list, third, _) = Follow(wholeSecond, Plan((t, n) => n <= 2 ? t with { Inverted = true } : t));
        Assert.True(list.Count(FollowedState.Replaced) == 1, All(list));
        Assert.True(FileProof.Check(third, DemoSession.Known, Scratch, _ => { }, CancellationToken.None, [first, second]).IsWhole);
        Assert.Equal(FollowingCodes.Other, Refused(third, first).Code);
    }

    [Fact]
    public void Alone_with_another_package_or_with_a_changed_one_it_is_refused_with_words()
    {
        var before = demo.Build(Plan());
        var (list, sent, whole) = Follow(before, Plan((t, n) => n == 2 ? t with { Inverted = true } : t));
        Assert.Contains(list.Follows, Refused(sent).Message, StringComparison.Ordinal);
        Assert.Equal(FollowingCodes.Alone, Refused(sent).Code);
        Assert.Equal(FollowingCodes.Other, Refused(sent, whole).Code);
        Assert.Equal(FollowingCodes.None, Refused(whole, before).Code);
        var kept = Path.GetFileName(list.Files.First(f => f.State == FollowedState.AsBefore && !f.IsRecord).Path);
        Assert.Equal(FollowingCodes.NotAsBefore, Refused(sent, Changed(before, (name, bytes) => name == kept ? [.. bytes[..^1], (byte)(bytes[^1] ^ 1)] : bytes)).Code);
        Assert.Equal(FollowingCodes.NotAsBefore, Refused(sent, Changed(before, (name, bytes) => name == kept ? null : bytes)).Code);
        Assert.Equal(FollowingCodes.Changed, Refused(Changed(sent, (name, bytes) => name == FollowUp.ListName ? Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(bytes).Replace("AsBefore", "Gone", StringComparison.Ordinal)) : bytes), before).Code);
        Assert.Equal(FollowingCodes.Changed, Refused(Changed(sent, (name, bytes) => name == FollowUp.SignatureName ? null : bytes), before).Code);

        // A list that somebody else signed is none of this package's.
        var other = new SigningKey(Enumerable.Range(40, 32).Select(b => (byte)b).ToArray());
        Assert.Equal(FollowingCodes.Changed, Refused(Changed(sent, (name, bytes) => name == FollowUp.SignatureName ? DetachedSignature.Sign(list.ToJson(), other, FollowUp.ListName).ToJson() : bytes), before).Code);
    }

    [Fact]
    public void A_file_that_was_changed_on_the_way_is_found_in_both_together()
    {
        var before = demo.Build(Plan());
        var (list, sent, _) = Follow(before, Plan((t, n) => n == 2 ? t with { Inverted = true } : t));
        var replaced = Path.GetFileName(list.Files.First(f => f.State == FollowedState.Replaced && !f.IsRecord).Path);
        var report = FileProof.Check(Changed(sent, (name, bytes) => name == replaced ? [.. bytes[..^1], (byte)(bytes[^1] ^ 1)] : bytes), DemoSession.Known, Scratch, _ => { }, CancellationToken.None, [before]);
        Assert.False(report.IsWhole);
        Assert.Contains(report.Rows, r => !r.Passed && r.Subject.EndsWith(replaced, StringComparison.Ordinal));
    }

    [Fact]
    public void What_is_new_comes_after_under_numbers_that_nobody_has()
    {
        // The third of four was not sent at first: by their order its number would be another's.
        var before = Plan((t, n) => n == 3 ? t with { Treatment = Treatment.HoldBack } : t);
        var now = Plan();
        Assert.NotEqual(Names(before), Names(now).Where(n => Names(before).Contains(n)));
        var kept = KeptNames.Of(before, now, demo.Loaded.Session, now.Preparation)!;
        var plan = demo.Plan(_ => kept);
        var (then, names) = (DeliveredNames.Of(before.Session, before.Preparation), DeliveredNames.Of(plan.Session, plan.Preparation));
        Assert.All(then, n => Assert.Equal(n.Value, names[n.Key]));
        var fresh = Assert.Single(names, n => !then.ContainsKey(n.Key));
        Assert.StartsWith($"{then.Count + 2:00}_", fresh.Value, StringComparison.Ordinal);
        Assert.Equal(ClickOf(before), ClickOf(plan));
        Assert.Null(KeptNames.Of(before, plan, demo.Loaded.Session, kept));
        Assert.Equal(before.Range, plan.Range);
        var (list, sent, _) = Follow(demo.Build(before), plan);
        Assert.True((1, 0, 0) == (list.Count(FollowedState.New), list.Count(FollowedState.Gone), Sounds(list).Values.Count(s => s == FollowedState.Replaced)), All(list));
        Assert.Contains("1 file new", list.Words, StringComparison.Ordinal);
        Assert.True(File.Exists(sent));
    }

    [Fact]
    public void What_is_new_in_a_second_follow_up_is_numbered_on_though_the_pattern_has_no_number_any_more()
    {
        static TrackChoice Back(TrackChoice t, int n, params int[] rows) => rows.Contains(n) ? t with { Treatment = Treatment.HoldBack } : t;
        var first = Plan((t, n) => Back(t, n, 2, 3));
        var now = Plan((t, n) => Back(t, n, 3));
        var second = demo.Plan(_ => KeptNames.Of(first, now, demo.Loaded.Session, now.Preparation)!);
        var then = DeliveredNames.Of(second.Session, second.Preparation);

        // What was held back goes now too, from the preparation that the first follow-up left.
        var full = Plan();
        var third = demo.Plan(_ => second.Preparation with { Tracks = second.Preparation.Tracks.Select(c => c with { Treatment = full.Preparation.Tracks.First(f => f.TrackId == c.TrackId).Treatment }).ToValueArray() });
        var kept = KeptNames.Of(second, third, demo.Loaded.Session, third.Preparation)!;
        var plan = demo.Plan(_ => kept);
        var names = DeliveredNames.Of(plan.Session, plan.Preparation);
        Assert.All(then, n => Assert.Equal(n.Value, names[n.Key]));
        var fresh = Assert.Single(names, n => !then.ContainsKey(n.Key));
        var last = then.Values.Append(Path.GetFileName(ClickOf(second))).Max(NamePattern.NumberOf);
        Assert.Equal(last + 1, NamePattern.NumberOf(fresh.Value));
        Assert.Equal(fresh.Value.Length, fresh.Value.Trim().Length);
        Assert.Null(KeptNames.Of(second, plan, demo.Loaded.Session, kept));
    }

    private static string ClickOf(DeliveryPlan plan) => plan.Files.Single(f => f.Kind == PlannedKind.Click).Path;

    private static IReadOnlyList<string> Names(DeliveryPlan plan) => [.. plan.Files.Where(f => f.IsSound).Select(f => f.Path)];

    [Fact]
    public void Another_start_rate_or_name_is_no_follow_up_and_it_is_said_why()
    {
        var before = Plan();
        Assert.Null(SameStart.Problem(before, Plan((t, n) => n == 1 ? t with { Inverted = true } : t)));
        Assert.Contains("began at", SameStart.Problem(before, Plan(also: p => p with { From = RangeStart.Chosen, ChosenStart = 4800 })), StringComparison.Ordinal);
        Assert.Contains(" ran at ", SameStart.Problem(before, Plan(also: p => p with { Rate = 96_000 })), StringComparison.Ordinal);
        var renamed = DeliveryPlan.Make(before.Session with { Name = "Another suite" }, before.Preparation, new Dictionary<string, Core.Sound.MediaSound>());
        Assert.Contains("another folder", SameStart.Problem(before, renamed), StringComparison.Ordinal);
    }

    [Fact]
    public void The_list_reads_back_as_it_was_written()
    {
        var list = new FollowUp(new string('a', 64), 3, new string('b', 64), DemoSession.Stamp, [new FollowedFile("Suite/audio/01_Cello.wav", FollowedState.New, 12, new string('c', 64), false), new FollowedFile("Suite/old.wav", FollowedState.Gone, 7, new string('d', 64), true)]);
        var read = FollowUp.FromJson(list.ToJson(), "list");
        Assert.Equal(list.Files, read.Files);
        Assert.Equal(list, read with { Files = list.Files });
        Assert.Contains("Delete these: they are part of it no more:\n  old.wav\n", list.ToText("Suite/"), StringComparison.Ordinal);
        Assert.Throws<BadInputException>(() => FollowUp.FromJson("""{"lyrotransFollowUp": 2}"""u8.ToArray(), "list"));
    }
}
