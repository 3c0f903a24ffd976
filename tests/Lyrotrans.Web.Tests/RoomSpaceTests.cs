using System.IO.Compression;
using System.Net;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Tests.Hosting;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

/// <summary>A room takes no more than it may: said before anything is sent or built, shown, and warned of.</summary>
public sealed class RoomSpaceTests(TestApplication main)
{
    private const int Most = 2_000_000;

    private static string Space(string page) => page[page.IndexOf("Lantern Street:", StringComparison.Ordinal)..].Split('<')[0];

    private TestApplication Small() => main.With(new Dictionary<string, string> { ["LYRO_ROOM_SPACE"] = "2 MB" });

    [Fact]
    public async Task What_does_not_fit_is_refused_before_it_is_sent_and_other_rooms_have_their_own()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfer = await person.BeginAsync("Planetarium show");
        var batch = await person.BatchAsync(transfer);
        Assert.Equal(HttpStatusCode.Created, (await person.TryUploadAsync(batch, "first.wav", Most / 2)).StatusCode);

        // What was announced is spoken for, though nothing of it is here.
        var refused = await person.TryUploadAsync(batch, "second.wav", (Most / 2) + 1);
        Assert.Equal(HttpStatusCode.InsufficientStorage, refused.StatusCode);
        Assert.Contains("second.wav needs 1.0 MB, and the room has 1.0 MB left of 2.0 MB", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        var other = await Person.OpenRoomAsync(application, "Quillfeather Hall");
        Assert.Equal(HttpStatusCode.Created, (await other.TryUploadAsync(await other.BatchAsync(await other.BeginAsync("Night bus")), "second.wav", Most)).StatusCode);
    }

    [Fact]
    public async Task What_is_taken_is_shown_and_a_room_that_is_nearly_full_is_told_so()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfer = await person.BeginAsync("Planetarium show");
        var bell = Sounds.Noise(91);
        await person.BringInAsync(transfer, ("bell.wav", bell));
        var shown = await person.Browser.GetStringAsync("/");
        Assert.Matches("Lantern Street: [0-9.]+ kB of 2.0 MB used", shown);
        Assert.DoesNotContain("nearly full", shown, StringComparison.Ordinal);

        // A row from before sizes were kept is measured when somebody asks.
        var before = await application.AskAsync(d => d.RoomMedia.Where(m => m.Bytes == bell.Length).ExecuteUpdateAsync(m => m.SetProperty(x => x.Bytes, (long?)null)));
        Assert.Equal(1, before);
        Assert.Contains(Space(shown), await person.Browser.GetStringAsync("/"), StringComparison.Ordinal);
        Assert.Equal(0, await application.AskAsync(d => d.RoomMedia.CountAsync(m => m.Bytes == null)));

        await application.AskAsync(d => d.RoomMedia.Where(m => m.Bytes == bell.Length).ExecuteUpdateAsync(m => m.SetProperty(x => x.Bytes, Most - 1000)));
        Assert.Contains("nearly full", await person.Browser.GetStringAsync("/"), StringComparison.Ordinal);
        var build = await person.PostAsync(transfer, "build", "Build");
        Assert.Equal(HttpStatusCode.BadRequest, build.StatusCode);
        Assert.Contains("The package needs", await build.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Contains("The package needs", await person.Browser.GetStringAsync($"/transfers/{transfer}/build"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Builds_that_run_beside_each_other_get_no_more_than_the_room_has()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfers = new List<Guid>();
        for (var i = 0; i < 4; i++)
        {
            transfers.Add(await person.BeginAsync($"Night bus {i}"));
            await person.BringInAsync(transfers[i], ($"bell-{i}.wav", Sounds.Noise(93 + i)));
        }

        var first = await person.BuildAsync(transfers[0]);
        Assert.True(first.Passed);

        // Room for one more and a half.
        var media = await application.AskAsync(d => d.RoomMedia.SumAsync(m => m.Bytes)) ?? 0;
        var one = first.Bytes + (first.Bytes / 2);
        await application.AskAsync(d => d.RoomMedia.Where(m => m.Bytes > Sounds.Frames).OrderBy(m => m.Sha256).Take(1)
            .ExecuteUpdateAsync(m => m.SetProperty(x => x.Bytes, x => x.Bytes + Most - media - first.Bytes - one)));
        var builds = transfers.Skip(1).Select(t => new PackageBuild { Id = Guid.NewGuid(), TransferId = t, Revision = 1, By = "nobody", At = DateTimeOffset.UtcNow, State = WorkState.Waiting }).ToList();
        await application.AskAsync(d =>
        {
            d.AddRange(builds);
            return d.SaveChangesAsync();
        });
        var ended = new List<PackageBuild>();
        foreach (var build in builds)
        {
            ended.Add(await application.EndedAsync(d => d.Builds.AsNoTracking().SingleAsync(b => b.Id == build.Id)));
        }

        Assert.Single(ended, b => b.State == WorkState.Done);
        Assert.All(ended.Where(b => b.State == WorkState.Failed), b => Assert.Equal(WorkCodes.NoRoom.Id, b.ErrorCode));
        Assert.Equal(2, ended.Count(b => b.State == WorkState.Failed));
        Assert.All(ended.Where(b => b.State == WorkState.Failed), b => Assert.Matches("The package needs [0-9.]+ kB, and the room has [0-9.]+ (kB|B) left of 2.0 MB", b.Error));
    }

    [Fact]
    public async Task What_work_claims_counts_for_all_others_while_it_is_at_it()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfer = await person.BeginAsync("Night bus");
        var build = new PackageBuild
        {
            Id = Guid.NewGuid(),
            TransferId = transfer,
            Revision = 1,
            By = "nobody",
            At = DateTimeOffset.UtcNow,
            State = WorkState.Working,
            SeenAt = DateTimeOffset.UtcNow.AddMinutes(1),
            Claimed = Most - 1000,
        };
        await application.AskAsync(d =>
        {
            d.Add(build);
            return d.SaveChangesAsync();
        });
        Assert.Contains("2.0 MB on the way", Space(await person.Browser.GetStringAsync("/")), StringComparison.Ordinal);
        var batch = await person.BatchAsync(transfer);
        Assert.Equal(HttpStatusCode.InsufficientStorage, (await person.TryUploadAsync(batch, "bell.wav", 1001)).StatusCode);
        Assert.Equal(1, await application.AskAsync(d => d.Builds.ExecuteUpdateAsync(b => b.SetProperty(x => x.State, WorkState.Stopped))));
        Assert.Equal(HttpStatusCode.Created, (await person.TryUploadAsync(batch, "bell.wav", 1001)).StatusCode);
    }

    [Fact]
    public async Task Files_that_are_announced_at_the_same_moment_are_given_no_more_than_there_is()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var batch = await person.BatchAsync(await person.BeginAsync("Planetarium show"));
        var answers = await Task.WhenAll(Enumerable.Range(0, 12).Select(i => person.TryUploadAsync(batch, $"bell-{i}.wav", (long)(Most * 0.3))));
        Assert.Equal(3, answers.Count(a => a.StatusCode == HttpStatusCode.Created));
        Assert.Equal(9, answers.Count(a => a.StatusCode == HttpStatusCode.InsufficientStorage));
    }

    [Fact]
    public async Task Archives_that_come_together_unpack_to_no_more_than_the_room_has()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfer = await person.BeginAsync("Planetarium show");
        await person.BringInAsync(transfer, ("a.zip", Archive("a.wav", 1)), ("b.zip", Archive("b.wav", 2)));
        Assert.Matches("b.zip needs 1.2 MB, and the room has [0-9.]+ kB left of 2.0 MB", await person.Browser.GetStringAsync($"/transfers/{transfer}/intake"));
        Assert.InRange(await application.AskAsync(d => d.RoomMedia.SumAsync(m => m.Bytes)) ?? 0, 1, Most);

        static byte[] Archive(string name, byte content)
        {
            using var packed = new MemoryStream();
            using (var zip = new ZipArchive(packed, ZipArchiveMode.Create, leaveOpen: true))
            {
                using var inner = zip.CreateEntry(name).Open();
                inner.Write(Enumerable.Repeat(content, (int)(Most * 0.6)).ToArray());
            }

            return packed.ToArray();
        }
    }

    [Fact]
    public async Task An_archive_unpacks_to_no_more_than_the_room_has()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfer = await person.BeginAsync("Planetarium show");
        using var packed = new MemoryStream();
        using (var zip = new ZipArchive(packed, ZipArchiveMode.Create, leaveOpen: true))
        {
            using var silence = zip.CreateEntry("silence.wav").Open();
            silence.Write(new byte[2 * Most]);
        }

        await person.BringInAsync(transfer, ("silence.zip", packed.ToArray()), ("bell.wav", Sounds.Noise(92)));
        Assert.Matches("silence.zip needs 4.0 MB, and the room has [0-9.]+ MB left of 2.0 MB", await person.Browser.GetStringAsync($"/transfers/{transfer}/intake"));
        Assert.Single((await person.SurveyAsync(transfer)).GetProperty("media").EnumerateArray());
        Assert.Equal(1, await application.AskAsync(d => d.RoomMedia.CountAsync()));
    }
}
