using System.IO.Compression;
using System.Net;
using System.Security.Cryptography;
using System.Text.RegularExpressions;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Links;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

// What a receiver exported again, held to what was sent.
public sealed partial class LinkTests
{
    private async Task<HttpResponseMessage> AskAsync(HttpClient receiver, string path, string handler, params (string Name, string Value)[] fields)
    {
        var token = RequestToken().Match(await receiver.GetStringAsync(path)).Groups[1].Value;
        var ask = new HttpRequestMessage(HttpMethod.Post, $"{path}?handler={handler}") { Content = new FormUrlEncodedContent(fields.Select(f => KeyValuePair.Create(f.Name, f.Value))) };
        ask.Headers.Add("X-Request-Token", token);
        return await receiver.SendAsync(ask);
    }

    private async Task SendAsync(HttpClient receiver, string path, string check, string name, byte[] bytes)
    {
        var begun = await BeginAsync(receiver, path, name, bytes.Length, check);
        Assert.Equal(HttpStatusCode.Created, begun.StatusCode);
        Assert.True(bytes.Length == 0 || (await Person.Stranger(application, "nobody@tarnlane.example").SendAsync(begun.Headers.Location!.ToString(), 0, bytes)).IsSuccessStatusCode);
    }

    private async Task<ArrivalCheck> ComparedAsync(HttpClient receiver, string path, params (string Name, byte[] Bytes)[] files)
    {
        var check = await (await AskAsync(receiver, path, "Arrived")).Content.ReadAsStringAsync();
        foreach (var (name, bytes) in files)
        {
            await SendAsync(receiver, path, check, name, bytes);
        }

        Assert.Equal(HttpStatusCode.NoContent, (await AskAsync(receiver, path, "Compare", ("check", check))).StatusCode);
        return await application.EndedAsync(d => d.ArrivalChecks.AsNoTracking().SingleAsync(c => c.Id == Guid.Parse(check)));
    }

    private IEnumerable<string> Kept(Guid link) => Directory.Exists(Path.Combine(application.Folder, "returns", link.ToString("N"))) ? Directory.EnumerateFileSystemEntries(Path.Combine(application.Folder, "returns", link.ToString("N"))) : [];

    private async Task<Dictionary<string, byte[]>> PackageAsync()
    {
        using var archive = new ZipArchive(new MemoryStream(await _sender.Browser.GetByteArrayAsync($"/builds/{_build.Id}/package")));
        var files = new Dictionary<string, byte[]>();
        foreach (var entry in archive.Entries)
        {
            using var bytes = new MemoryStream();
            using var stream = entry.Open();
            await stream.CopyToAsync(bytes);
            files[entry.FullName] = bytes.ToArray();
        }

        return files;
    }

    [Fact]
    public async Task What_was_exported_again_is_compared_told_to_both_and_let_go()
    {
        var (path, id) = await OfferAsync();
        using var receiver = application.Browser();
        var sound = (await PackageAsync()).First(f => f.Key.Contains("/audio/", StringComparison.Ordinal)).Value;

        // The least bit of a sample is another: the same sound, and a file that nobody has.
        sound[sound.AsSpan().IndexOf("data"u8) + 8 + 300] ^= 1;
        var sha256 = Convert.ToHexStringLower(SHA256.HashData(sound));
        var check = await ComparedAsync(receiver, path, ("something else.wav", sound));
        Assert.Equal(WorkState.Done, check.State);
        Assert.Contains("Known again: 1 by their sound", ArrivalDesk.ReportOf(check)!.BasisWords, StringComparison.Ordinal);
        Assert.Equal(0, ArrivalDesk.ReportOf(check)!.Missing);
        Assert.Equal(["1 track has another name."], ArrivalDesk.ReportOf(check)!.Causes);
        Assert.Contains("1 track has another name.", await receiver.GetStringAsync(path), StringComparison.Ordinal);
        Assert.Contains("1 track has another name.", await receiver.GetStringAsync($"{path}?handler=Arrivals"), StringComparison.Ordinal);
        var handover = await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/handover");
        Assert.Contains("1 track has another name.", handover, StringComparison.Ordinal);
        Assert.DoesNotContain("Came back: something else.wav", handover, StringComparison.Ordinal);

        // Nothing of it stays, and nothing of it reached the room.
        Assert.Empty(Kept(id));
        Assert.False(await application.AskAsync(d => d.RoomMedia.AnyAsync(m => m.Sha256 == sha256)));
        Assert.Equal(ReturnState.Gone, await application.AskAsync(d => d.ReturnedFiles.Where(f => f.CheckId == check.Id).Select(f => f.State).SingleAsync()));
    }

    [Fact]
    public async Task A_zip_is_opened_and_one_that_climbs_out_or_is_none_is_refused_without_a_path_of_the_server()
    {
        var (path, id) = await OfferAsync();
        using var receiver = application.Browser();
        var sound = (await PackageAsync()).First(f => f.Key.Contains("/audio/", StringComparison.Ordinal));
        Assert.Equal(WorkState.Done, (await ComparedAsync(receiver, path, ("all.zip", Zipped("prints/bell.wav", sound.Value)))).State);
        foreach (var (name, bytes) in new[] { ("out.zip", Zipped("../../out.wav", sound.Value)), ("broken.zip", Zipped("a.wav", sound.Value)[..200]), ("words.wav", "no sound at all"u8.ToArray()), ("empty.wav", []) })
        {
            var failed = await ComparedAsync(receiver, path, (name, bytes));
            Assert.Equal(WorkState.Failed, failed.State);
            Assert.NotEmpty(failed.Error!);
            Assert.DoesNotContain(application.Folder, failed.Error!, StringComparison.Ordinal);
            Assert.Empty(Kept(id));
        }

        Assert.DoesNotContain(application.Folder, await receiver.GetStringAsync(path), StringComparison.Ordinal);
    }

    [Fact]
    public async Task One_comparison_of_a_link_goes_on_at_a_time_and_takes_only_its_own_files()
    {
        var ((path, id), (other, _)) = (await OfferAsync(("back", "0.000001")), await OfferAsync());
        using var receiver = application.Browser();
        var check = await (await AskAsync(receiver, path, "Arrived")).Content.ReadAsStringAsync();
        Assert.Equal(HttpStatusCode.BadRequest, (await AskAsync(receiver, path, "Compare", ("check", check))).StatusCode);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await BeginAsync(receiver, other, "a.wav", 10, check)).StatusCode);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await BeginAsync(receiver, path, "a.wav", 10, "none")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await AskAsync(receiver, other, "Compare", ("check", check))).StatusCode);

        // Its files count, also while they wait; one that did not come whole keeps it from being begun.
        Assert.Equal(HttpStatusCode.Created, (await BeginAsync(receiver, path, "a.wav", 900, check)).StatusCode);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await BeginAsync(receiver, path, "b.wav", 900, check)).StatusCode);
        Assert.Contains("a.wav did not come whole", await (await AskAsync(receiver, path, "Compare", ("check", check))).Content.ReadAsStringAsync(), StringComparison.Ordinal);

        // Another one lets go of what waited.
        var next = await (await AskAsync(receiver, path, "Arrived")).Content.ReadAsStringAsync();
        Assert.Empty(Kept(id));
        await application.AskAsync(d => d.ArrivalChecks.Where(c => c.Id == Guid.Parse(next)).ExecuteUpdateAsync(c => c.SetProperty(x => x.State, WorkState.Working).SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow)));
        Assert.Equal(HttpStatusCode.BadRequest, (await AskAsync(receiver, path, "Arrived")).StatusCode);
    }

    [Fact]
    public async Task A_comparison_whose_process_is_gone_is_made_again()
    {
        var (path, id) = await OfferAsync();
        using var receiver = application.Browser();
        var sound = (await PackageAsync()).First(f => f.Key.Contains("/audio/", StringComparison.Ordinal)).Value;
        var check = Guid.Parse(await (await AskAsync(receiver, path, "Arrived")).Content.ReadAsStringAsync());
        await SendAsync(receiver, path, check.ToString(), "bell.wav", sound);

        // It was killed with its files laid out.
        var laid = Directory.CreateDirectory(Path.Combine(application.Folder, "returns", id.ToString("N"), $"{check:N}.compared", "brought"));
        await File.WriteAllBytesAsync(Path.Combine(laid.FullName, "bell.wav"), sound[..100]);
        await application.AskAsync(d => d.ArrivalChecks.Where(c => c.Id == check).ExecuteUpdateAsync(c => c.SetProperty(x => x.State, WorkState.Working).SetProperty(x => x.Attempts, 1).SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow - WorkLife.Dead - TimeSpan.FromMinutes(1))));
        await application.RunAsync<WorkBook>(w => w.FindAsync(CancellationToken.None));
        Assert.Equal(WorkState.Done, (await application.EndedAsync(d => d.ArrivalChecks.AsNoTracking().SingleAsync(c => c.Id == check))).State);
        Assert.Empty(Kept(id));

        // And between its report and its end: the report stands.
        await application.AskAsync(d => d.ArrivalChecks.Where(c => c.Id == check).ExecuteUpdateAsync(c => c.SetProperty(x => x.State, WorkState.Working).SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow - WorkLife.Dead - TimeSpan.FromMinutes(1))));
        await application.RunAsync<WorkBook>(w => w.FindAsync(CancellationToken.None));
        var ended = await application.EndedAsync(d => d.ArrivalChecks.AsNoTracking().SingleAsync(c => c.Id == check));
        Assert.Equal((WorkState.Done, ArrivalDesk.ReportOf(ended)!.Verdict), (ended.State, ended.Doing));
    }

    [GeneratedRegex("name=\"request-token\" content=\"([^\"]+)\"")]
    private static partial Regex RequestToken();
}
