using System.IO.Pipelines;
using System.Net;
using System.Security.Cryptography;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Web.Tests.Hosting;
using Lyrotrans.Web.Sweeping;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

/// <summary>Uploads: one connection writes at a time, and none changes or holds what is finished.</summary>
public sealed class UploadTests(TestApplication application)
{
    private static readonly byte[] s_file = Sounds.Noise(71);

    private async Task<(Person Person, Guid Transfer, Guid Batch, string Upload)> BegunAsync()
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Planetarium show");
        var batch = await person.BatchAsync(transfer);
        return (person, transfer, batch, await person.BeginUploadAsync(batch, "bell.wav", s_file.Length));
    }

    private static string Sha256(ReadOnlySpan<byte> bytes) => $"sha256 {Convert.ToBase64String(SHA256.HashData(bytes))}";

    // A connection that has sent so many bytes and says nothing more.
    private static async Task<(Task<HttpResponseMessage> Answer, Pipe Line)> HangingAsync(Person person, string upload, int bytes)
    {
        var line = new Pipe();
        var answer = person.SendAsync(upload, 0, new StreamContent(line.Reader.AsStream()));
        await line.Writer.WriteAsync(s_file.AsMemory(0, bytes));
        return (answer, line);
    }

    private static async Task ArrivedAsync(Person person, string upload, long bytes)
    {
        for (var tries = 0; tries < 100; tries++, await Task.Delay(50))
        {
            var ask = new HttpRequestMessage(HttpMethod.Head, upload);
            ask.Headers.Add("Tus-Resumable", "1.0.0");
            if ((await person.Browser.SendAsync(ask)).Headers.GetValues("Upload-Offset").Single() == $"{bytes}")
            {
                return;
            }
        }

        Assert.Fail($"{bytes} bytes did not arrive");
    }

    [Fact]
    public async Task A_second_connection_is_told_to_wait_while_the_first_writes()
    {
        var (person, _, _, upload) = await BegunAsync();
        var (first, line) = await HangingAsync(person, upload, 1000);
        await ArrivedAsync(person, upload, 1000);
        var second = await person.SendAsync(upload, 500, [1, 2, 3]);
        Assert.Equal(HttpStatusCode.Locked, second.StatusCode);
        Assert.Contains("Another connection is sending bell.wav", await second.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        await line.Writer.CompleteAsync();
        Assert.Equal(HttpStatusCode.NoContent, (await first).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await person.SendAsync(upload, 1000, s_file[1000..])).StatusCode);
    }

    [Fact]
    public async Task A_stale_connection_neither_holds_nor_changes_what_is_finished()
    {
        var (person, transfer, batch, upload) = await BegunAsync();
        var (stale, line) = await HangingAsync(person, upload, s_file.Length);
        await ArrivedAsync(person, upload, s_file.Length);
        var finish = await person.FinishAsync(batch);
        Assert.True(finish.IsSuccessStatusCode, await finish.Content.ReadAsStringAsync());
        await line.Writer.CompleteAsync();
        Assert.True((int)(await stale).StatusCode < 500);
        Assert.Contains((await person.SendAsync(upload, s_file.Length, [1])).StatusCode, new[] { HttpStatusCode.Conflict, HttpStatusCode.NotFound });
        IntakeBatch ended;
        do
        {
            await Task.Delay(50);
            ended = await application.AskAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.Id == batch));
        }
        while (ended.State is WorkState.Waiting or WorkState.Working);
        Assert.True(ended.State == WorkState.Done, ended.Error);
        Assert.Equal(1, (await person.SurveyAsync(transfer)).GetProperty("tracks").GetArrayLength());
    }

    [Fact]
    public async Task A_piece_that_arrived_damaged_is_not_kept()
    {
        var (person, _, batch, upload) = await BegunAsync();
        var damaged = await person.SendAsync(upload, 0, new ByteArrayContent(s_file), Sha256("other"u8));
        Assert.Equal(460, (int)damaged.StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await person.SendAsync(upload, 0, new ByteArrayContent(s_file), "crc32 AAAA")).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await person.SendAsync(upload, 0, new ByteArrayContent(s_file), Sha256(s_file))).StatusCode);
        Assert.True((await person.FinishAsync(batch)).IsSuccessStatusCode);
    }

    [Fact]
    public async Task Of_a_piece_with_a_checksum_whose_line_breaks_nothing_is_kept_and_of_one_without_what_came()
    {
        var (person, _, batch, summed) = await BegunAsync();
        var plain = await person.BeginUploadAsync(batch, "plain.wav", s_file.Length);
        foreach (var (upload, checksum, kept) in new[] { (summed, Sha256(s_file), 0), (plain, null, 1000) })
        {
            var line = new Pipe();
            using var cut = new CancellationTokenSource();
            var sending = person.SendAsync(upload, 0, new StreamContent(line.Reader.AsStream()), checksum, cut.Token);
            await line.Writer.WriteAsync(s_file.AsMemory(0, 1000));
            await ArrivedAsync(person, upload, 1000);
            await cut.CancelAsync();
            await Assert.ThrowsAnyAsync<Exception>(() => sending);
            await ArrivedAsync(person, upload, kept);
        }
    }

    [Fact]
    public async Task Another_version_of_the_protocol_is_told_which_there_is()
    {
        var person = await application.AnybodyAsync();
        var ask = new HttpRequestMessage(HttpMethod.Post, "/uploads");
        ask.Headers.Add("Tus-Resumable", "0.2.2");
        var answer = await person.Browser.SendAsync(ask);
        Assert.Equal(HttpStatusCode.PreconditionFailed, answer.StatusCode);
        Assert.Equal(["1.0.0"], answer.Headers.GetValues("Tus-Version"));
    }

    [Fact]
    public async Task A_file_that_still_arrives_goes_on_when_the_rest_of_its_batch_is_taken_in()
    {
        var (person, transfer, batch, whole) = await BegunAsync();
        await person.SendAsync(whole, 0, s_file);
        var slow = await person.BeginUploadAsync(batch, "slow.wav", s_file.Length);
        var (sending, line) = await HangingAsync(person, slow, 1000);
        await ArrivedAsync(person, slow, 1000);
        Assert.True((await person.FinishAsync(batch)).IsSuccessStatusCode);
        await line.Writer.WriteAsync(s_file.AsMemory(1000));
        await line.Writer.CompleteAsync();
        Assert.Equal(HttpStatusCode.NoContent, (await sending).StatusCode);
        var later = await application.AskAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.TransferId == transfer && b.State == WorkState.Receiving));
        Assert.True((await person.FinishAsync(later.Id)).IsSuccessStatusCode);
    }

    [Fact]
    public async Task Nothing_is_changed_by_a_request_that_another_site_could_send()
    {
        var (person, transfer, batch, upload) = await BegunAsync();
        foreach (var path in new[] { $"/transfers/{transfer}/batches", $"/batches/{batch}/finish", $"/batches/{batch}/stop" })
        {
            Assert.Equal(HttpStatusCode.BadRequest, (await person.Browser.PostAsync(path, null)).StatusCode);
        }

        Assert.Equal(HttpStatusCode.BadRequest, (await person.Browser.DeleteAsync(upload)).StatusCode);
        Assert.Equal(WorkState.Receiving, (await application.AskAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.Id == batch))).State);
    }

    [Fact]
    public async Task What_broke_off_a_week_ago_goes_and_is_noted_and_what_came_since_stays()
    {
        var (person, transfer, batch, upload) = await BegunAsync();
        await person.SendAsync(upload, 0, s_file[..1000]);
        var lately = await BegunAsync();
        await lately.Person.SendAsync(lately.Upload, 0, s_file[..1000]);
        var (old, incoming) = (DateTimeOffset.UtcNow - Sweeper.Broken - TimeSpan.FromHours(1), Path.Combine(application.Folder, "store", "incoming"));
        await application.AskAsync(d => d.Batches.Where(b => b.Id == batch || b.Id == lately.Batch).ExecuteUpdateAsync(b => b.SetProperty(x => x.At, old)));
        await application.AskAsync(d => d.Uploads.Where(u => u.BatchId == batch || u.BatchId == lately.Batch).ExecuteUpdateAsync(u => u.SetProperty(x => x.At, old)));
        File.SetLastWriteTimeUtc(FileOf(upload), old.UtcDateTime);
        var orphan = Path.Combine(incoming, Guid.NewGuid().ToString("N"));
        File.WriteAllText(orphan, "left");
        File.SetLastWriteTimeUtc(orphan, old.UtcDateTime);
        await application.RunAsync<Sweeper>(s => s.SweepAsync(CancellationToken.None));
        Assert.False(File.Exists(FileOf(upload)));
        Assert.False(File.Exists(orphan));
        Assert.True(File.Exists(FileOf(lately.Upload)));
        Assert.Equal(WorkState.Stopped, (await application.AskAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.Id == batch))).State);
        var room = await application.AskAsync(d => d.Transfers.Where(t => t.Id == transfer).Select(t => t.RoomId).SingleAsync());
        Assert.Contains("1 file of Planetarium show that broke off", (await application.AskAsync(d => d.RoomEvents.SingleAsync(e => e.RoomId == room && e.Kind == RoomEventKind.Deleted && e.What.Contains("broke off")))).What, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_batch_that_failed_is_read_again_or_forgotten_and_goes_by_itself_after_a_week()
    {
        var (person, transfer, batch, upload) = await BegunAsync();
        await person.SendAsync(upload, 0, s_file);
        await FailedAsync(batch, DateTimeOffset.UtcNow);
        Assert.Contains("Read again", await person.Browser.GetStringAsync($"/transfers/{transfer}/intake"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NoContent, (await person.PostAsync($"/batches/{batch}/again")).StatusCode);
        Assert.Equal(WorkState.Done, await EndedAsync(batch));
        Assert.Single((await person.SurveyAsync(transfer)).GetProperty("media").EnumerateArray());

        // What is done is not read again, whoever asks.
        Assert.Equal(HttpStatusCode.NoContent, (await person.PostAsync($"/batches/{batch}/again")).StatusCode);
        Assert.Equal(WorkState.Done, await EndedAsync(batch));

        var forgotten = await BegunAsync();
        var (lately, longAgo) = (await BegunAsync(), await BegunAsync());
        await FailedAsync(forgotten.Batch, DateTimeOffset.UtcNow);
        await FailedAsync(lately.Batch, DateTimeOffset.UtcNow - Sweeper.Broken + TimeSpan.FromHours(1));
        await FailedAsync(longAgo.Batch, DateTimeOffset.UtcNow - Sweeper.Broken - TimeSpan.FromHours(1));
        File.SetLastWriteTimeUtc(FileOf(longAgo.Upload), (DateTimeOffset.UtcNow - Sweeper.Broken - TimeSpan.FromHours(1)).UtcDateTime);
        await application.AskAsync(d => d.Uploads.Where(u => u.BatchId == longAgo.Batch).ExecuteUpdateAsync(u => u.SetProperty(x => x.At, DateTimeOffset.UtcNow - Sweeper.Broken - TimeSpan.FromHours(1))));
        Assert.Equal(HttpStatusCode.NoContent, (await person.PostAsync($"/batches/{forgotten.Batch}/stop")).StatusCode);
        await application.RunAsync<Sweeper>(s => s.SweepAsync(CancellationToken.None));
        Assert.Equal((false, true, false), (File.Exists(FileOf(forgotten.Upload)), File.Exists(FileOf(lately.Upload)), File.Exists(FileOf(longAgo.Upload))));
    }

    [Fact]
    public async Task Nothing_stays_of_files_that_nobody_will_read_and_of_builds_that_nobody_offers()
    {
        var (_, transfer, batch, upload) = await BegunAsync();
        await application.AskAsync(d => d.Batches.Where(b => b.Id == batch).ExecuteUpdateAsync(b => b.SetProperty(x => x.State, WorkState.Stopped)));
        var killed = new PackageBuild { Id = Guid.NewGuid(), TransferId = transfer, Revision = 1, By = "nobody", At = DateTimeOffset.UtcNow, State = WorkState.Failed };
        await application.AskAsync(d =>
        {
            d.Add(killed);
            return d.SaveChangesAsync();
        });
        var half = new FolderPackage(Directory.CreateDirectory(Path.Combine(application.Folder, "half")).FullName, killed.At);
        half.Append("half.txt").Finish();
        half.Finish();
        var packages = (PackageStore)application.Services.GetService(typeof(PackageStore))!;
        packages.Keep(killed.Id, half, [1], [2]);
        Assert.NotNull(packages.Package(killed.Id));
        await application.RunAsync<Sweeper>(s => s.SweepAsync(CancellationToken.None));
        Assert.False(File.Exists(FileOf(upload)));
        Assert.Equal((null, null), (packages.Package(killed.Id), packages.Proof(killed.Id)));
    }

    private string FileOf(string upload) => Path.Combine(application.Folder, "store", "incoming", Guid.Parse(upload.Split('/')[^1]).ToString("N"));

    private Task<int> FailedAsync(Guid batch, DateTimeOffset when) => application.AskAsync(d => d.Batches.Where(b => b.Id == batch).ExecuteUpdateAsync(
        b => b.SetProperty(x => x.State, WorkState.Failed).SetProperty(x => x.Error, "No room.").SetProperty(x => x.ErrorCode, "work.files").SetProperty(x => x.SeenAt, when).SetProperty(x => x.Attempts, 1)));

    private async Task<WorkState> EndedAsync(Guid batch) => (await application.EndedAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.Id == batch))).State;

    [Fact]
    public async Task What_was_announced_is_not_promised_to_the_next()
    {
        var (person, _, batch, _) = await BegunAsync();
        var free = new DriveInfo(application.Folder).AvailableFreeSpace;
        Assert.Equal(HttpStatusCode.Created, (await person.TryUploadAsync(batch, "first.wav", free / 3 * 2)).StatusCode);
        var second = await person.TryUploadAsync(batch, "second.wav", free / 3 * 2);
        Assert.Equal(HttpStatusCode.InsufficientStorage, second.StatusCode);
        Assert.Contains("beside what is on its way", await second.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        await application.AskAsync(d => d.Uploads.Where(u => u.BatchId == batch).ExecuteDeleteAsync());
    }
}
