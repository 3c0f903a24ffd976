using System.IO.Compression;
using System.Net;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Tests.Hosting;
using Lyrotrans.Workflow.Following;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

/// <summary>A second package for the same receiver, of only what is new or changed.</summary>
public sealed class FollowUpTests(TestApplication application)
{
    private static readonly byte[] s_bell = Sounds.Noise(101);

    private async Task<PackageBuild> FollowedAsync(Person person, Guid transfer, Guid build)
    {
        var answer = await person.PostAsync(transfer, "handover", "FollowUp", ("build", build.ToString()));
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return await application.EndedAsync(d => d.Builds.AsNoTracking().Where(b => b.TransferId == transfer).OrderByDescending(b => b.At).FirstAsync());
    }

    private static async Task<Dictionary<string, byte[]>> UnpackedAsync(HttpClient browser, string path)
    {
        using var zip = new ZipArchive(new MemoryStream(await browser.GetByteArrayAsync(path)));
        var files = new Dictionary<string, byte[]>();
        foreach (var entry in zip.Entries)
        {
            using var bytes = new MemoryStream();
            await using var input = entry.Open();
            await input.CopyToAsync(bytes);
            files[entry.FullName] = bytes.ToArray();
        }

        return files;
    }

    [Fact]
    public async Task What_came_late_goes_alone_and_with_what_is_there_it_is_one_proved_package()
    {
        var person = await Person.OpenRoomAsync(application, "Quillfeather Hall");
        var transfer = await person.BeginAsync("Three bells, one lantern");
        await person.BringInAsync(transfer, ("bell.wav", s_bell), ("lantern.wav", Sounds.Noise(102)));
        var first = await person.BuildAsync(transfer);
        Assert.Equal(HttpStatusCode.BadRequest, (await person.PostAsync(transfer, "handover", "FollowUp", ("build", first.Id.ToString()))).StatusCode);

        // It sorts before the others, and would take their numbers.
        await person.BringInAsync(transfer, ("a late bell.wav", Sounds.Noise(103)));
        var follow = await FollowedAsync(person, transfer, first.Id);
        Assert.Equal((WorkState.Done, true, first.Id), (follow.State, follow.Passed, follow.FollowsId!.Value));
        var (before, sent) = (await UnpackedAsync(person.Browser, $"/builds/{first.Id}/package"), await UnpackedAsync(person.Browser, $"/builds/{follow.Id}/package"));
        Assert.Contains(sent.Keys, k => k.Contains("late", StringComparison.Ordinal) && k.EndsWith(".wav", StringComparison.Ordinal));
        Assert.DoesNotContain(sent.Keys, k => k.EndsWith(".wav", StringComparison.Ordinal) && before.ContainsKey(k));
        foreach (var (path, bytes) in sent)
        {
            before[path] = bytes;
        }

        var root = before.Keys.First().Split('/')[0];
        var sums = Encoding.UTF8.GetString(before[$"{root}/SHA256SUMS"]).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(3, sums.Count(s => s.EndsWith(".wav", StringComparison.Ordinal)));
        Assert.All(sums, line => Assert.Equal(line[..64], Convert.ToHexStringLower(SHA256.HashData(before[$"{root}/{line[66..]}"]))));
        Assert.EndsWith("_follow_up.zip", follow.FileName, StringComparison.Ordinal);
        Assert.Contains($"follow-up to revision {first.Revision}: 1 file new", follow.Doing, StringComparison.Ordinal);

        var page = await person.Browser.GetStringAsync($"/transfers/{transfer}/handover");
        Assert.Contains(follow.Doing, page, StringComparison.Ordinal);
        Assert.DoesNotContain("id=\"has\"", page, StringComparison.Ordinal);
        var offered = await person.PostAsync(transfer, "handover", "Offer", ("build", follow.Id.ToString()), ("for", "Tarn Lane"), ("mail", string.Empty), ("days", "3"), ("passphrase", string.Empty), ("claims", string.Empty), ("back", "1"));
        var link = System.Text.RegularExpressions.Regex.Match(await offered.Content.ReadAsStringAsync(), "/r/[A-Za-z0-9_-]+").Value;
        using var receiver = application.Browser();
        var shown = await receiver.GetStringAsync(link);
        Assert.Contains("A follow-up to what you have", shown, StringComparison.Ordinal);
        Assert.Contains("late_bell", shown.Replace("late bell", "late_bell", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.Equal(await person.Browser.GetByteArrayAsync($"/builds/{follow.Id}/package"), await receiver.GetByteArrayAsync($"{link}/package"));
        Assert.Contains($"has revision {follow.Revision}", (await person.Browser.GetStringAsync($"/transfers/{transfer}/handover")).Replace("<b>The receiver</b> ", string.Empty, StringComparison.Ordinal), StringComparison.Ordinal);
        var report = await UnpackedAsync(person.Browser, $"/builds/{follow.Id}/report");
        Assert.Contains("follow-up to revision", Encoding.UTF8.GetString(report.Single(f => f.Key.EndsWith(".html", StringComparison.Ordinal)).Value), StringComparison.Ordinal);
        Assert.Contains(FollowUp.ListName, string.Join(' ', sent.Keys), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Where_the_start_has_moved_nothing_is_built_and_the_page_says_why()
    {
        var person = await Person.OpenRoomAsync(application, "Quillfeather Hall");
        var transfer = await person.BeginAsync("Two bells");
        await person.BringInAsync(transfer, ("bell.wav", s_bell));
        var first = await person.BuildAsync(transfer);
        Assert.True((await person.PostAsync(transfer, "prepare", "Options", ("files.from", "chosen"), ("files.chosenStart", "4800"), ("files.namePattern", "{order}_{track}"), ("files.tail", "1.000"), ("files.container", "wav"), ("files.encoding", "integer 24"))).IsSuccessStatusCode);
        var answer = await person.PostAsync(transfer, "handover", "FollowUp", ("build", first.Id.ToString()));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("would not line up", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(1, await application.AskAsync(d => d.Builds.CountAsync(b => b.TransferId == transfer)));
    }
}
