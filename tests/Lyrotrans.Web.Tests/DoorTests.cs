using System.Net;
using System.Text.RegularExpressions;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;
using MimeKit;

namespace Lyrotrans.Web.Tests;

/// <summary>Who comes in, how often one may try, how long it holds, and what is told.</summary>
public sealed partial class DoorTests(TestApplication application)
{
    private Task<Person> RoomAsync() => Person.OpenRoomAsync(application, "Quillfeather Hall");

    private static async Task<bool> IsInAsync(HttpClient browser) => (await browser.GetAsync("/")).StatusCode == HttpStatusCode.OK;

    private async Task<(HttpResponseMessage Answer, Person Who)> TryAsync(string email, string password, bool stay = false)
    {
        var who = Person.Stranger(application, email);
        var fields = new Dictionary<string, string> { ["Email"] = email, ["Password"] = password };
        if (stay)
        {
            fields["Stay"] = "true";
        }

        return (await who.PostPlainAsync("/sign-in", fields), who);
    }

    private static async Task<string> WrongAsync(HttpResponseMessage answer) => Wrong().Match(await answer.Content.ReadAsStringAsync()).Groups[1].Value;

    private async Task<List<RoomEvent>> LogAsync(Person person, RoomEventKind kind, int lines = 1)
    {
        // What was refused is written after the answer has gone.
        for (var tries = 0; ; tries++, await Task.Delay(50))
        {
            var there = await application.AskAsync(d => d.RoomEvents.Where(e => e.Kind == kind && d.Memberships.Any(m => m.RoomId == e.RoomId && d.Users.Any(u => u.Id == m.AccountId && u.Email == person.Email))).ToListAsync());
            if (there.Count >= lines || tries > 200)
            {
                return there;
            }
        }
    }

    private List<MimeMessage> Letters(string to) =>
        [.. Directory.EnumerateFiles(Path.Combine(application.Folder, "outbox"), "*.eml").Order(StringComparer.Ordinal).Select(f => MimeMessage.Load(f)).Where(l => l.To.Mailboxes.Any(m => m.Address == to))];

    private async Task<MimeMessage> LetterAsync(string to, int number = 0)
    {
        for (var tries = 0; tries < 100; tries++, await Task.Delay(50))
        {
            if (Letters(to) is { } letters && letters.Count > number)
            {
                return letters[number];
            }
        }

        throw new TimeoutException("No letter came.");
    }

    [Fact]
    public async Task An_address_without_an_account_answers_as_one_with_it_to_the_last_try()
    {
        var person = await RoomAsync();
        var (known, unknown) = (new List<string>(), new List<string>());
        for (var i = 0; i < Tries.Most + 2; i++)
        {
            known.Add(await WrongAsync((await TryAsync(person.Email, "a wrong password")).Answer));
            unknown.Add(await WrongAsync((await TryAsync("nobody-" + person.Email, "a wrong password")).Answer));
        }

        Assert.Equal(unknown, known);
        Assert.All(known.Take(Tries.Most), w => Assert.Contains("E-mail or password is wrong", w, StringComparison.Ordinal));
        Assert.All(known.Skip(Tries.Most), w => Assert.Contains("Too many wrong tries", w, StringComparison.Ordinal));

        // The right one is not tried either.
        Assert.Contains("Too many wrong tries", await WrongAsync((await TryAsync(person.Email, Person.Password)).Answer), StringComparison.Ordinal);
        Assert.Equal(Tries.Most - 1, (await LogAsync(person, RoomEventKind.Refused, Tries.Most - 1)).Count);
        Assert.Single(await LogAsync(person, RoomEventKind.Locked));
    }

    [Fact]
    public async Task One_machine_tries_only_so_often_whatever_it_tries()
    {
        var stranger = Person.Stranger(application, "x@hall.example");
        var answers = new List<HttpStatusCode>();
        for (var i = 0; i < 31; i++)
        {
            answers.Add((await stranger.PostPlainAsync("/sign-in", new() { ["Email"] = $"{i}@hall.example", ["Password"] = "x" })).StatusCode);
        }

        Assert.Equal(HttpStatusCode.TooManyRequests, answers[^1]);
        Assert.All(answers.SkipLast(1), a => Assert.Equal(HttpStatusCode.OK, a));
    }

    [Fact]
    public async Task Signing_out_ends_it_on_the_server_too()
    {
        var person = await RoomAsync();
        var kept = person.Cookies();
        await person.PostPlainAsync("/sign-out", [], tokenOf: "/");
        var thief = application.Browser();
        thief.DefaultRequestHeaders.Add("Cookie", kept);
        Assert.False(await IsInAsync(thief));
        Assert.Single(await LogAsync(person, RoomEventKind.SignedOut));
    }

    [Fact]
    public async Task A_changed_password_ends_every_other_sign_in_and_the_old_one_opens_nothing()
    {
        var person = await RoomAsync();
        var elsewhere = await Person.SignInAsync(application, person.Email, Person.Password);
        var wrong = await person.PostPlainAsync("/account?handler=Password", new() { ["current"] = "not it", ["fresh"] = "another lantern on-the-moor" });
        Assert.Contains("The password is wrong", await WrongAsync(wrong), StringComparison.Ordinal);
        Assert.True(await IsInAsync(elsewhere.Browser));
        await person.PostPlainAsync("/account?handler=Password", new() { ["current"] = Person.Password, ["fresh"] = "another lantern on-the-moor" });
        Assert.True(await IsInAsync(person.Browser));
        Assert.False(await IsInAsync(elsewhere.Browser));
        Assert.Equal(HttpStatusCode.OK, (await TryAsync(person.Email, Person.Password)).Answer.StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await TryAsync(person.Email, "another lantern on-the-moor")).Answer.StatusCode);
        var letter = await LetterAsync(person.Email);
        Assert.Contains("password was changed", letter.TextBody, StringComparison.Ordinal);
        Assert.EndsWith("@localhost", letter.MessageId, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_person_sees_their_sign_ins_and_ends_their_own_and_nobody_else_s()
    {
        var (person, other) = (await RoomAsync(), await RoomAsync());
        var elsewhere = await Person.SignInAsync(application, person.Email, Person.Password);
        var ids = await application.AskAsync(d => d.SignIns.Where(s => d.Users.Any(u => u.Id == s.AccountId && u.Email == person.Email)).OrderBy(s => s.BeganAt).Select(s => s.Id).ToListAsync());
        await other.PostPlainAsync("/account?handler=End", new() { ["signIn"] = $"{ids[1]}" });
        Assert.True(await IsInAsync(elsewhere.Browser));
        Assert.Contains($"value=\"{ids[1]}\"", await person.Browser.GetStringAsync("/account"), StringComparison.Ordinal);
        await person.PostPlainAsync("/account?handler=End", new() { ["signIn"] = $"{ids[1]}" });
        Assert.False(await IsInAsync(elsewhere.Browser));
        Assert.True(await IsInAsync(person.Browser));
    }

    [Theory]
    [InlineData(false, 7, 7, true)]
    [InlineData(false, 8, 8, false)]
    [InlineData(false, 0, 24, false)]
    [InlineData(true, 24 * 13, 24 * 13, true)]
    [InlineData(true, 24 * 14, 24 * 14, false)]
    [InlineData(true, 0, 24 * 90, false)]
    public async Task A_sign_in_holds_as_long_as_was_said(bool stays, int idleHours, int hours, bool holds)
    {
        var person = await RoomAsync();
        var (seen, began) = (DateTimeOffset.UtcNow.AddHours(-idleHours), DateTimeOffset.UtcNow.AddHours(-hours));
        await application.AskAsync(d => d.SignIns.Where(s => d.Users.Any(u => u.Id == s.AccountId && u.Email == person.Email))
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.Stays, stays).SetProperty(x => x.SeenAt, seen).SetProperty(x => x.BeganAt, began)));
        Assert.Equal(holds, await IsInAsync(person.Browser));
    }

    [Fact]
    public async Task A_page_that_asks_by_itself_keeps_nobody_signed_in()
    {
        var person = await RoomAsync();
        var then = DateTimeOffset.UtcNow.AddHours(-2);
        IQueryable<SignIn> Of(Storage.LyroContext d) => d.SignIns.Where(s => d.Users.Any(u => u.Id == s.AccountId && u.Email == person.Email));
        await application.AskAsync(d => Of(d).ExecuteUpdateAsync(s => s.SetProperty(x => x.SeenAt, then)));
        var ask = new HttpRequestMessage(HttpMethod.Get, "/");
        ask.Headers.Add("X-Asks-Itself", "yes");
        await person.Browser.SendAsync(ask);
        Assert.True(DateTimeOffset.UtcNow - await application.AskAsync(d => Of(d).Select(s => s.SeenAt).SingleAsync()) > TimeSpan.FromHours(1));
        await person.Browser.GetAsync("/");
        Assert.True(DateTimeOffset.UtcNow - await application.AskAsync(d => Of(d).Select(s => s.SeenAt).SingleAsync()) < TimeSpan.FromMinutes(1));
    }

    [Fact]
    public async Task Staying_signed_in_is_a_choice()
    {
        var person = await RoomAsync();
        string Cookie(HttpResponseMessage answer) => answer.Headers.GetValues("Set-Cookie").Single(c => c.StartsWith("lyrotrans=", StringComparison.Ordinal));
        Assert.DoesNotContain("expires", Cookie((await TryAsync(person.Email, Person.Password)).Answer), StringComparison.OrdinalIgnoreCase);
        Assert.Contains("expires", Cookie((await TryAsync(person.Email, Person.Password, stay: true)).Answer), StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task With_a_second_factor_a_password_alone_opens_nothing_and_a_code_opens_once()
    {
        var person = await RoomAsync();
        var setup = await (await person.PostPlainAsync("/account?handler=BeginFactor", new() { ["current"] = Person.Password })).Content.ReadAsStringAsync();
        var key = Key().Match(setup).Groups[1].Value;
        Assert.Contains("<svg", setup, StringComparison.Ordinal);
        var wrong = await person.PostPlainAsync("/account?handler=ConfirmFactor", new() { ["code"] = Authenticator.Code(key, 100) });
        Assert.Contains("The code is wrong", await WrongAsync(wrong), StringComparison.Ordinal);
        var on = await (await person.PostPlainAsync("/account?handler=ConfirmFactor", new() { ["code"] = Authenticator.Code(key) })).Content.ReadAsStringAsync();
        var codes = WebUtility.HtmlDecode(Codes().Match(on).Groups[1].Value).Split('\n', StringSplitOptions.TrimEntries);
        Assert.Equal(10, codes.Distinct().Count());

        // What lies in the database opens nothing.
        var kept = await application.AskAsync(d => d.UserTokens.Where(t => d.Users.Any(u => u.Id == t.UserId && u.Email == person.Email)).Select(t => t.Value!).ToListAsync());
        Assert.Equal(2, kept.Count);
        Assert.DoesNotContain(kept, k => k.Contains(key.Replace(" ", string.Empty, StringComparison.Ordinal), StringComparison.OrdinalIgnoreCase) || codes.Any(c => k.Contains(c, StringComparison.OrdinalIgnoreCase)));

        async Task<bool> OpensAsync(string code)
        {
            var (answer, who) = await TryAsync(person.Email, Person.Password);
            Assert.StartsWith("/second-factor", answer.Headers.Location!.ToString(), StringComparison.Ordinal);
            Assert.False(await IsInAsync(who.Browser));
            await who.PostPlainAsync("/second-factor", new() { ["Code"] = code });
            return await IsInAsync(who.Browser);
        }

        var next = Authenticator.Code(key, 1);
        Assert.True(await OpensAsync(next));
        Assert.False(await OpensAsync(next));
        Assert.True(await OpensAsync(codes[3]));
        Assert.False(await OpensAsync(codes[3]));
        Assert.False(await OpensAsync("123 456 789"));
    }

    [Fact]
    public async Task A_forgotten_password_is_set_anew_by_a_letter_once()
    {
        var person = await RoomAsync();
        var asks = Person.Stranger(application, person.Email);
        async Task<string> AskAsync(string email) => Done().Match(await (await asks.PostPlainAsync("/forgotten", new() { ["Email"] = email })).Content.ReadAsStringAsync()).Groups[1].Value;
        Assert.Equal(await AskAsync($"nobody-{person.Email}"), await AskAsync(person.Email));
        var link = new Uri(Link().Match((await LetterAsync(person.Email)).TextBody!).Value).PathAndQuery;
        Assert.Empty(Letters($"nobody-{person.Email}"));
        Assert.Contains("guessed soon", await WrongAsync(await asks.PostPlainAsync(link, new() { ["Password"] = "password12345" })), StringComparison.Ordinal);
        Assert.Contains("does not hold", await WrongAsync(await asks.PostPlainAsync(link[..^4], new() { ["Password"] = "a ferry past the weir" })), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await asks.PostPlainAsync(link, new() { ["Password"] = "a ferry past the weir" })).StatusCode);
        Assert.False(await IsInAsync(person.Browser));
        Assert.Contains("does not hold", await WrongAsync(await asks.PostPlainAsync(link, new() { ["Password"] = "another ferry past the weir" })), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await TryAsync(person.Email, "a ferry past the weir")).Answer.StatusCode);
    }

    [Fact]
    public async Task The_room_s_log_is_the_room_s()
    {
        var (person, other) = (await RoomAsync(), await RoomAsync());
        var transfer = await person.BeginAsync("Secret suite");
        await person.BringInAsync(transfer, ("bell.wav", Sounds.Noise(81)));
        var build = await person.BuildAsync(transfer);
        await person.Browser.GetAsync($"/builds/{build.Id}/package");
        await TryAsync(person.Email, "wrong");
        await LogAsync(person, RoomEventKind.Refused);
        var log = await person.Browser.GetStringAsync("/room-log");
        foreach (var words in new[] { "signed in", "refused: a wrong password", "fetched: the package", "of Secret suite" })
        {
            Assert.Contains(words, log, StringComparison.Ordinal);
        }

        var room = await application.AskAsync(d => d.Transfers.Where(t => t.Id == transfer).Select(t => t.RoomId).SingleAsync());

        // Packages are signed with the room's key; one that took its place does not make the earlier one unknown.
        async Task<List<RoomKey>> KeysAsync() => await application.AskAsync(d => d.RoomKeys.AsNoTracking().Where(k => k.RoomId == room).OrderBy(k => k.Since).ToListAsync());
        var key = Assert.Single(await KeysAsync());
        var fingerprint = new Workflow.Signing.PublicKey(key.Public).Words;
        Assert.Contains(fingerprint, log, StringComparison.Ordinal);
        Assert.DoesNotContain(Convert.ToBase64String(key.Public), key.Secret, StringComparison.Ordinal);
        await other.PostPlainAsync("/room-log?handler=Rotate", new() { ["room"] = $"{room}" }, "/room-log");
        Assert.Equal(key.Id, Assert.Single(await KeysAsync()).Id);
        await person.PostPlainAsync("/room-log?handler=Rotate", new() { ["room"] = $"{room}" }, "/room-log");
        var keys = await KeysAsync();
        Assert.Equal([true, false], keys.Select(k => k.Retired is not null));
        Assert.Empty(keys[0].Secret);
        var after = await person.Browser.GetStringAsync("/room-log");
        Assert.Contains(fingerprint, after, StringComparison.Ordinal);
        Assert.Contains($"changed: the key that packages are signed with is now {new Workflow.Signing.PublicKey(keys[1].Public).Words}", after, StringComparison.Ordinal);

        Assert.DoesNotContain("Secret suite", await other.Browser.GetStringAsync("/room-log"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_private_is_kept_nowhere_and_folders_are_the_owner_s()
    {
        var person = await RoomAsync();
        foreach (var path in new[] { "/", "/account", "/room-log", "/sign-in" })
        {
            Assert.True((await person.Browser.GetAsync(path)).Headers.CacheControl!.NoStore, path);
        }

        foreach (var folder in new[] { "store", "packages", "keys", "outbox" })
        {
            Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute, new DirectoryInfo(Path.Combine(application.Folder, folder)).UnixFileMode);
        }
    }

    [Fact]
    public async Task Another_host_s_name_gets_nothing()
    {
        var ask = new HttpRequestMessage(HttpMethod.Get, "/sign-in");
        ask.Headers.Host = "elsewhere.example";
        Assert.Equal(HttpStatusCode.BadRequest, (await application.Browser().SendAsync(ask)).StatusCode);
    }

    [GeneratedRegex("id=\"wrong\">(.*?)</div>", RegexOptions.Singleline)]
    private static partial Regex Wrong();

    [GeneratedRegex("id=\"done\">(.*?)</p>", RegexOptions.Singleline)]
    private static partial Regex Done();

    [GeneratedRegex("id=\"key\">(.*?)</fig")]
    private static partial Regex Key();

    [GeneratedRegex("id=\"codes\">(.*?)</pre>", RegexOptions.Singleline)]
    private static partial Regex Codes();

    [GeneratedRegex("http://\\S+")]
    private static partial Regex Link();
}
