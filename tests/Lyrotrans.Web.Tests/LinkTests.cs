using System.IO.Compression;
using System.Net;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

/// <summary>A package offered by a link: what it opens, to whom, how often and how long; and what comes back by it.</summary>
public sealed partial class LinkTests(TestApplication application) : IAsyncLifetime
{
    private static readonly byte[] s_bell = Sounds.Noise(81);
    private static Task<(Person Person, Guid Transfer, PackageBuild Build)>? s_sent;
    private Person _sender = null!;
    private Guid _transfer;
    private PackageBuild _build = null!;

    public async ValueTask InitializeAsync() => (_sender, _transfer, _build) = await (s_sent ??= SendAsync());

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task<(Person Person, Guid Transfer, PackageBuild Build)> SendAsync()
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Three bells, one lantern");
        await person.BringInAsync(transfer, ("bell.wav", s_bell));
        return (person, transfer, await person.BuildAsync(transfer));
    }

    [Fact]
    public async Task A_link_opens_its_page_and_its_files_without_an_account()
    {
        var (path, _) = await OfferAsync();
        using var receiver = application.Browser();
        var page = await receiver.GetStringAsync(path);
        Assert.Contains("Three bells, one lantern", page, StringComparison.Ordinal);
        Assert.Contains("Bring it in, in this order", page, StringComparison.Ordinal);
        var zip = await receiver.GetByteArrayAsync($"{path}/package");
        Assert.Equal(await _sender.Browser.GetByteArrayAsync($"/builds/{_build.Id}/package"), zip);
        using var archive = new ZipArchive(new MemoryStream(zip));
        var sums = JsonDocument.Parse(await receiver.GetStringAsync($"{path}/sums.json")).RootElement.EnumerateArray().ToList();
        Assert.Equal(archive.Entries.Select(e => e.FullName), sums.Select(s => s.GetProperty("path").GetString()));
        for (var i = 0; i < sums.Count; i++)
        {
            using var entry = archive.Entries[i].Open();
            var file = await receiver.GetByteArrayAsync($"{path}/files/{i}");
            Assert.Equal(Convert.ToHexStringLower(await SHA256.HashDataAsync(entry)), Convert.ToHexStringLower(SHA256.HashData(file)));
            Assert.Equal(sums[i].GetProperty("sha256").GetString(), Convert.ToHexStringLower(SHA256.HashData(file)));
        }

        var sound = sums.FindIndex(s => s.GetProperty("path").GetString()!.EndsWith(".wav", StringComparison.Ordinal));
        Assert.Equal(HttpStatusCode.OK, (await receiver.GetAsync($"{path}/files/{sound}/listen?from=100")).StatusCode);
        var outline = await receiver.GetByteArrayAsync($"{path}/files/{sound}/outline");
        Assert.Equal(960, outline.Length);
        Assert.Contains(outline, b => b > 20);
        Assert.Equal(HttpStatusCode.NotFound, (await receiver.GetAsync($"{path}/files/{sums.Count}")).StatusCode);
        var sheet = await receiver.GetAsync($"{path}/sheet");
        Assert.Contains("sandbox", string.Join(' ', sheet.Headers.GetValues("Content-Security-Policy")), StringComparison.Ordinal);
    }

    [Fact]
    public async Task It_is_fetched_from_any_place_on()
    {
        var (path, _) = await OfferAsync();
        using var receiver = application.Browser();
        var whole = await receiver.GetByteArrayAsync($"{path}/package");
        foreach (var (from, to) in new[] { (0, 0), (1, 1000), (whole.Length / 2, whole.Length - 1), (whole.Length - 1, whole.Length - 1) })
        {
            var ask = new HttpRequestMessage(HttpMethod.Get, $"{path}/package");
            ask.Headers.Range = new(from, to);
            var part = await receiver.SendAsync(ask);
            Assert.Equal(HttpStatusCode.PartialContent, part.StatusCode);
            Assert.Equal(whole[from..(to + 1)], await part.Content.ReadAsByteArrayAsync());
        }
    }

    [Fact]
    public async Task A_link_that_is_wrong_old_or_taken_back_is_answered_alike_everywhere()
    {
        var (revoked, revokedId) = await OfferAsync();
        var (expired, expiredId) = await OfferAsync();
        await application.AskAsync(d => d.Links.Where(l => l.Id == expiredId).ExecuteUpdateAsync(l => l.SetProperty(x => x.ExpiresAt, DateTimeOffset.UtcNow.AddSeconds(-1))));
        Assert.True((await _sender.PostAsync(_transfer, "handover", "Revoke", ("link", revokedId.ToString()))).IsSuccessStatusCode);
        var wrong = $"/r/{new string('A', 43)}";
        foreach (var below in new[] { "", "/package", "/files/0", "/files/0/listen", "/files/0/outline", "/sums.json", "/sheet" })
        {
            var answers = new List<string>();
            foreach (var path in new[] { wrong, revoked, expired, "/r/short" })
            {
                using var receiver = application.Browser();
                var answer = await receiver.GetAsync(path + below);
                Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
                answers.Add(Tokens().Replace(await answer.Content.ReadAsStringAsync(), "…"));
            }

            Assert.Single(answers.Distinct());
        }
    }

    [Fact]
    public async Task Links_that_open_nothing_are_tried_so_often_and_one_that_opens_something_goes_on()
    {
        var (path, _) = await OfferAsync();
        using var receiver = application.Browser();
        var codes = new List<HttpStatusCode>();
        for (var i = 0; i < 40; i++)
        {
            codes.Add((await receiver.GetAsync($"/r/{new string((char)('A' + (i % 20)), 43)}/sums.json")).StatusCode);
        }

        Assert.Equal(HttpStatusCode.NotFound, codes[0]);
        Assert.Equal(HttpStatusCode.TooManyRequests, codes[^1]);
        Assert.Equal(HttpStatusCode.OK, (await receiver.GetAsync($"{path}/sums.json")).StatusCode);
    }

    [Fact]
    public async Task A_passphrase_is_asked_for_before_anything_is_shown_and_few_wrong_ones_are_taken()
    {
        var (path, id) = await OfferAsync(("passphrase", "ferry weir cobble"));
        var receiver = Person.Stranger(application, "receiver@tarnlane.example");
        var door = await receiver.Browser.GetStringAsync(path);
        Assert.DoesNotContain("Three bells", door, StringComparison.Ordinal);
        foreach (var below in new[] { "/package", "/files/0", "/sums.json", "/sheet", "/files/0/outline" })
        {
            Assert.Equal(HttpStatusCode.NotFound, (await receiver.Browser.GetAsync(path + below)).StatusCode);
        }

        var wrong = await receiver.PostPlainAsync($"{path}?handler=Passphrase", new() { ["passphrase"] = "ferry weir" }, path);
        Assert.Contains("not the passphrase", await wrong.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await receiver.PostPlainAsync($"{path}?handler=Passphrase", new() { ["passphrase"] = "ferry weir cobble" }, path)).StatusCode);
        Assert.Contains("Three bells", await receiver.Browser.GetStringAsync(path), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await receiver.Browser.GetAsync($"{path}/package")).StatusCode);

        // Whoever opened one link has opened that one alone.
        var (another, _) = await OfferAsync(("passphrase", "ferry weir cobble"));
        Assert.Equal(HttpStatusCode.NotFound, (await receiver.Browser.GetAsync($"{another}/package")).StatusCode);
        var guesser = Person.Stranger(application, "guesser@tarnlane.example");
        for (var i = 0; i < 9; i++)
        {
            await guesser.PostPlainAsync($"{path}?handler=Passphrase", new() { ["passphrase"] = $"guess {i}" }, path);
        }

        var late = await guesser.PostPlainAsync($"{path}?handler=Passphrase", new() { ["passphrase"] = "ferry weir cobble" }, path);
        Assert.Contains("too often", await late.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(1, await application.AskAsync(d => d.LinkEvents.CountAsync(e => e.LinkId == id && e.Kind == LinkEventKind.Opened)));
    }

    [Fact]
    public async Task Of_two_that_come_at_once_for_the_last_download_one_gets_it()
    {
        var (path, id) = await OfferAsync(("claims", "3"));
        var receivers = Enumerable.Range(0, 12).Select(_ => application.Browser()).ToList();
        await Task.WhenAll(receivers.Select(r => r.GetAsync(path)));
        var answers = await Task.WhenAll(receivers.Select(r => r.GetAsync($"{path}/package")));
        Assert.Equal(3, answers.Count(a => a.StatusCode == HttpStatusCode.OK));
        Assert.Equal(9, answers.Count(a => a.StatusCode == HttpStatusCode.Forbidden));
        Assert.Equal(3, await application.AskAsync(d => d.LinkClaims.CountAsync(c => c.LinkId == id)));

        // Who has it goes on fetching, in however many pieces; nobody else does, and the page stays.
        var had = receivers[Array.FindIndex(answers, a => a.StatusCode == HttpStatusCode.OK)];
        var piece = new HttpRequestMessage(HttpMethod.Get, $"{path}/files/0");
        piece.Headers.Range = new(10, 20);
        Assert.Equal(HttpStatusCode.PartialContent, (await had.SendAsync(piece)).StatusCode);
        Assert.Equal(3, await application.AskAsync(d => d.LinkClaims.CountAsync(c => c.LinkId == id)));
        var other = receivers[Array.FindIndex(answers, a => a.StatusCode == HttpStatusCode.Forbidden)];
        Assert.Equal(HttpStatusCode.OK, (await other.GetAsync(path)).StatusCode);

        // A day later it is another claim.
        await application.AskAsync(d => d.LinkClaims.Where(c => c.LinkId == id).ExecuteUpdateAsync(c => c.SetProperty(x => x.At, DateTimeOffset.UtcNow.AddHours(-25))));
        Assert.Equal(HttpStatusCode.Forbidden, (await had.GetAsync($"{path}/package")).StatusCode);
    }

    [Fact]
    public async Task Terms_that_cannot_be_are_refused_in_words()
    {
        foreach (var (name, value, words) in new[] { ("days", "0", "1 to 365 days"), ("days", "x", "A number was expected"), ("claims", "0", "1 to 1"), ("passphrase", "abc", "6 characters"), ("mail", "nobody", "no e-mail address"), ("back", "900", "100 GB"), ("back", "-1", "100 GB") })
        {
            var answer = await _sender.PostAsync(_transfer, "handover", "Offer", [.. Terms().Where(t => t.Name != name), (name, value)]);
            Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
            Assert.Contains(words, await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }

        var foreign = await _sender.PostAsync(_transfer, "handover", "Offer", [.. Terms().Where(t => t.Name != "build"), ("build", Guid.NewGuid().ToString())]);
        Assert.Equal(HttpStatusCode.BadRequest, foreign.StatusCode);
    }

    [Fact]
    public async Task What_the_receiver_says_is_the_sender_s_to_read()
    {
        var (path, id) = await OfferAsync(("mail", "tarn@tarnlane.example"));
        var receiver = Person.Stranger(application, "receiver@tarnlane.example");
        await receiver.Browser.GetStringAsync(path);
        await receiver.Browser.GetByteArrayAsync($"{path}/package");
        Assert.Equal(HttpStatusCode.Redirect, (await receiver.PostPlainAsync($"{path}?handler=Word", new() { ["name"] = "Mixer", ["word"] = "The bell <b>rings</b>" }, path)).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await receiver.PostPlainAsync($"{path}?handler=Confirm", new() { ["name"] = "Mixer" }, path)).StatusCode);
        var nameless = await receiver.PostPlainAsync($"{path}?handler=Confirm", new() { ["name"] = " " }, path);
        Assert.Contains("Say who you are", await nameless.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        var handover = await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/handover");
        Assert.Contains("says: The bell &lt;b&gt;rings&lt;/b&gt;", handover, StringComparison.Ordinal);
        Assert.Contains("Mixer: all is here", handover, StringComparison.Ordinal);
        Assert.Contains("fetched the package", handover, StringComparison.Ordinal);
        Assert.DoesNotContain(path[3..], handover, StringComparison.Ordinal);
        var letter = Directory.EnumerateFiles(Path.Combine(application.Folder, "outbox"), "*.eml").Select(File.ReadAllText).Single(l => l.Contains("tarn@tarnlane.example", StringComparison.Ordinal));
        Assert.Contains(path, letter.Replace("=\r\n", string.Empty, StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.NotEqual(default, (await application.AskAsync(d => d.Links.SingleAsync(l => l.Id == id))).ConfirmedAt);
    }

    [Fact]
    public async Task What_comes_back_lies_apart_within_its_quota_until_it_is_taken()
    {
        var (path, id) = await OfferAsync(("back", "0.001"));
        using var receiver = application.Browser();
        var before = await application.AskAsync(d => d.RoomMedia.CountAsync());
        var mix = Sounds.Noise(82);
        var begun = await BeginAsync(receiver, path, "mix.wav", mix.Length);
        Assert.Equal(HttpStatusCode.Created, begun.StatusCode);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await BeginAsync(receiver, path, "more.wav", 1_000_000)).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await BeginAsync(receiver, path, "../../evil.wav", 10)).StatusCode);
        var at = begun.Headers.Location!.ToString();
        var sender = Person.Stranger(application, "nobody@tarnlane.example");
        Assert.True((await sender.SendAsync(at, 0, mix[..1000])).IsSuccessStatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await sender.SendAsync(at, 0, mix[..1000])).StatusCode);
        Assert.True((await sender.SendAsync(at, 1000, mix[1000..])).IsSuccessStatusCode);

        // It is here, and the room knows nothing of it: neither its store nor its transfers.
        Assert.Equal(before, await application.AskAsync(d => d.RoomMedia.CountAsync()));
        Assert.Single(Directory.EnumerateFiles(Path.Combine(application.Folder, "returns", id.ToString("N"))));
        var handover = await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/handover");
        Assert.Contains("Came back: mix.wav", handover, StringComparison.Ordinal);

        // What is whole takes nothing more, and only the sender throws it away.
        Assert.Equal(HttpStatusCode.Conflict, (await sender.SendAsync(at, mix.Length, [1])).StatusCode);
        var delete = new HttpRequestMessage(HttpMethod.Delete, at);
        delete.Headers.Add("Tus-Resumable", "1.0.0");
        Assert.Equal(HttpStatusCode.NotFound, (await receiver.SendAsync(delete)).StatusCode);
        var revision = await application.AskAsync(d => d.Transfers.Where(t => t.Id == _transfer).Select(t => t.Current).SingleAsync());
        Assert.True((await _sender.PostAsync(_transfer, "handover", "Take", ("link", id.ToString()))).IsSuccessStatusCode);
        await application.EndedAsync(d => d.Batches.AsNoTracking().Where(b => b.TransferId == _transfer).OrderByDescending(b => b.At).FirstAsync());
        Assert.Empty(Directory.EnumerateFiles(Path.Combine(application.Folder, "returns", id.ToString("N"))));
        Assert.Contains("mix.wav", await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/intake"), StringComparison.Ordinal);
        Assert.True(await application.AskAsync(d => d.Transfers.Where(t => t.Id == _transfer).Select(t => t.Current).SingleAsync()) > revision);
        Assert.True((await _sender.PostAsync(_transfer, "handover", "Take", ("link", id.ToString()))).IsSuccessStatusCode);
    }

    [Fact]
    public async Task What_is_thrown_away_is_gone_and_its_quota_is_free_again()
    {
        var (path, id) = await OfferAsync(("back", "0.000001"));
        using var receiver = application.Browser();
        var stranger = Person.Stranger(application, "nobody@tarnlane.example");
        for (var round = 0; round < 2; round++)
        {
            var begun = await BeginAsync(receiver, path, "note.txt", 900);
            Assert.Equal(HttpStatusCode.Created, begun.StatusCode);
            Assert.True((await stranger.SendAsync(begun.Headers.Location!.ToString(), 0, new byte[900])).IsSuccessStatusCode);
            Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await BeginAsync(receiver, path, "note.txt", 900)).StatusCode);
            Assert.True((await _sender.PostAsync(_transfer, "handover", "ThrowAway", ("link", id.ToString()))).IsSuccessStatusCode);
            Assert.Empty(Directory.EnumerateFiles(Path.Combine(application.Folder, "returns", id.ToString("N"))));
        }
    }

    [Fact]
    public async Task What_broke_off_on_its_way_back_is_swept_when_nobody_went_on_with_it()
    {
        var (path, id) = await OfferAsync();
        using var receiver = application.Browser();
        var stranger = Person.Stranger(application, "nobody@tarnlane.example");
        var (old, young, whole) = (await BeginAsync(receiver, path, "old.wav", 900), await BeginAsync(receiver, path, "young.wav", 900), await BeginAsync(receiver, path, "whole.wav", 900));
        Assert.True((await stranger.SendAsync(whole.Headers.Location!.ToString(), 0, new byte[900])).IsSuccessStatusCode);
        await application.AskAsync(d => d.ReturnedFiles.Where(f => f.LinkId == id).ExecuteUpdateAsync(f => f.SetProperty(x => x.At, DateTimeOffset.UtcNow.AddDays(-30))));
        foreach (var begun in new[] { old, whole })
        {
            File.SetLastWriteTimeUtc(Path.Combine(application.Folder, "returns", id.ToString("N"), Guid.Parse(begun.Headers.Location!.ToString().Split('/')[^1]).ToString("N")), DateTime.UtcNow.AddDays(-8));
        }

        await application.RunAsync<Sweeping.Sweeper>(s => s.SweepAsync(CancellationToken.None));
        var states = await application.AskAsync(d => d.ReturnedFiles.Where(f => f.LinkId == id).ToDictionaryAsync(f => f.Name, f => f.State));
        Assert.Equal([ReturnState.Gone, ReturnState.Receiving, ReturnState.Here], [states["old.wav"], states["young.wav"], states["whole.wav"]]);
        Assert.Equal(2, Directory.EnumerateFiles(Path.Combine(application.Folder, "returns", id.ToString("N"))).Count());
    }

    [Fact]
    public async Task Whoever_begins_in_the_middle_of_a_file_is_noted_too()
    {
        var (path, id) = await OfferAsync();
        using var receiver = application.Browser();
        for (var i = 0; i < 3; i++)
        {
            var ask = new HttpRequestMessage(HttpMethod.Get, $"{path}/package");
            ask.Headers.Range = new(1, null);
            Assert.Equal(HttpStatusCode.PartialContent, (await receiver.SendAsync(ask)).StatusCode);
        }

        Assert.Equal(1, await application.AskAsync(d => d.LinkEvents.CountAsync(e => e.LinkId == id && e.Kind == LinkEventKind.Fetched)));
    }

    private IEnumerable<(string Name, string Value)> Terms() => [("build", _build.Id.ToString()), ("for", "Tarn Lane"), ("days", "14"), ("back", "1")];

    private async Task<(string Path, Guid Id)> OfferAsync(params (string Name, string Value)[] other)
    {
        var answer = await _sender.PostAsync(_transfer, "handover", "Offer", [.. Terms().Where(t => other.All(o => o.Name != t.Name)), .. other]);
        var html = await answer.Content.ReadAsStringAsync();
        Assert.True(answer.IsSuccessStatusCode, html);
        var path = Link().Match(html).Groups[1].Value;
        var sum = Convert.ToHexStringLower(SHA256.HashData(System.Buffers.Text.Base64Url.DecodeFromChars(path.AsSpan("/r/".Length))));
        return (path, (await application.AskAsync(d => d.Links.SingleAsync(l => l.TokenSha256 == sum))).Id);
    }

    private static Task<HttpResponseMessage> BeginAsync(HttpClient receiver, string path, string name, long length, string check = "")
    {
        var create = new HttpRequestMessage(HttpMethod.Post, $"{path}/returns");
        create.Headers.Add("Tus-Resumable", "1.0.0");
        create.Headers.Add("Upload-Length", $"{length}");
        create.Headers.Add("Upload-Metadata", $"name {Convert.ToBase64String(Encoding.UTF8.GetBytes(name))},check {Convert.ToBase64String(Encoding.UTF8.GetBytes(check))}");
        return receiver.SendAsync(create);
    }

    [GeneratedRegex("value=\"http://[^\"/]+(/r/[A-Za-z0-9_-]{43})\"")]
    private static partial Regex Link();

    [GeneratedRegex("CfDJ8[\\w-]+|v=[\\w-]+|[0-9a-f]{16,}|[0-9A-Z]{13,}:[0-9A-F]+|00-[0-9a-f-]+")]
    private static partial Regex Tokens();
}
