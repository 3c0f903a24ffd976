using System.Net;
using System.Security.Cryptography;
using System.Xml.Linq;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Keys;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

/// <summary>What the operator's settings make of the doors.</summary>
public sealed class DoorSettingsTests(TestApplication main)
{
    private static string NewKey() => Convert.ToBase64String(RandomNumberGenerator.GetBytes(32));

    [Fact]
    public async Task An_operator_reads_the_outbox_with_an_address_that_is_theirs_and_a_second_factor()
    {
        const string Email = "operator@hall.example";
        using var application = main.With(new Dictionary<string, string> { ["LYRO_OPERATORS"] = $"someone@hall.example, {Email}" });
        var other = await Person.OpenRoomAsync(application, "Tarn Lane");
        var person = await Person.OpenRoomAsync(application, "Quillfeather Hall", Email);
        Assert.Equal(HttpStatusCode.NotFound, (await other.Browser.GetAsync("/operator")).StatusCode);
        await other.PostPlainAsync("/forgotten", new() { ["Email"] = other.Email }, tokenOf: "/account");
        Assert.Contains("not confirmed", await person.Browser.GetStringAsync("/operator"), StringComparison.Ordinal);
        await application.AskAsync(d => d.Users.Where(u => u.Email == Email).ExecuteUpdateAsync(u => u.SetProperty(x => x.EmailConfirmed, true)));
        Assert.Contains("second factor first", await person.Browser.GetStringAsync("/operator"), StringComparison.Ordinal);
        await application.AskAsync(d => d.Users.Where(u => u.Email == Email).ExecuteUpdateAsync(u => u.SetProperty(x => x.TwoFactorEnabled, true)));
        for (var tries = 0; tries < 100 && Directory.GetFiles(Path.Combine(application.Folder, "outbox"), "*.eml").Length == 0; tries++)
        {
            await Task.Delay(50);
        }

        var page = await person.Browser.GetStringAsync("/operator");
        Assert.Contains(other.Email, page, StringComparison.Ordinal);
        Assert.Contains("/new-password?account=", page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Nobody_opens_a_room_where_nobody_may()
    {
        using var application = main.With(new Dictionary<string, string> { ["LYRO_ROOMS"] = "nobody" });
        var stranger = Person.Stranger(application, "x@hall.example");
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.Browser.GetAsync("/open-a-room")).StatusCode);
        var fields = new Dictionary<string, string> { ["Room"] = "Tarn Lane", ["EngineerName"] = "X", ["Email"] = stranger.Email, ["Password"] = Person.Password };
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.PostPlainAsync("/open-a-room", fields, tokenOf: "/sign-in")).StatusCode);
        Assert.DoesNotContain("open-a-room", await stranger.Browser.GetStringAsync("/sign-in"), StringComparison.Ordinal);
        Assert.Equal(0, await application.AskAsync(d => d.Rooms.CountAsync()));
    }

    [Fact]
    public async Task Only_a_proxy_of_the_settings_says_who_asks_and_over_https_everything_stays_there()
    {
        using var application = main.With(new Dictionary<string, string> { ["LYRO_PROXIES"] = "10.9.9.9, 10.8.0.0/16", ["LYRO_URL"] = "https://hall.example" });
        foreach (var (from, believed) in new[] { ("10.9.9.9", true), ("10.8.3.4", true), ("10.7.0.1", false) })
        {
            var ask = new HttpRequestMessage(HttpMethod.Get, "http://hall.example/sign-in");
            var browser = application.Browser();
            browser.DefaultRequestHeaders.Remove(AskedFrom.Header);
            ask.Headers.Add(AskedFrom.Header, from);
            ask.Headers.Add("X-Forwarded-For", "192.0.2.7");
            ask.Headers.Add("X-Forwarded-Proto", "https");
            var answer = await browser.SendAsync(ask);
            Assert.Equal(believed, answer.Headers.Contains("Strict-Transport-Security"));

            // Over plain HTTP no token is given that a listener could take.
            Assert.All(believed ? answer.Headers.GetValues("Set-Cookie") : [], c => Assert.Contains("secure", c, StringComparison.OrdinalIgnoreCase));
        }
    }

    [Fact]
    public async Task The_application_s_keys_lie_under_the_key_of_the_settings_and_move_under_a_newer_one()
    {
        var file = Path.Combine(Directory.CreateTempSubdirectory().FullName, "keys");
        var (first, second) = (NewKey(), NewKey());
        File.WriteAllLines(file, [first]);
        using var application = main.With(new Dictionary<string, string> { ["LYRO_KEY_FILE"] = file });
        await Person.OpenRoomAsync(application, "Quillfeather Hall");
        var folder = Path.Combine(application.Folder, "keys");
        var kept = Directory.GetFiles(folder, "key-*.xml");
        Assert.NotEmpty(kept);
        Assert.All(kept, k => Assert.DoesNotContain("masterKey", File.ReadAllText(k), StringComparison.Ordinal));
        var before = new WrappedKeys([Convert.FromBase64String(first)]);
        var plain = before.Unwrap(XDocument.Load(kept[0]).Descendants("wrapped").Single());
        Assert.NotEmpty(plain.Descendants("value"));
        var after = new WrappedKeys([Convert.FromBase64String(second), Convert.FromBase64String(first)]);
        Assert.Equal(kept.Length, KeyRing.BringUnder(folder, after));
        Assert.Equal(0, KeyRing.BringUnder(folder, after));
        var moved = XDocument.Load(kept[0]).Descendants("wrapped").Single();
        Assert.True(XNode.DeepEquals(plain, new WrappedKeys([Convert.FromBase64String(second)]).Unwrap(moved)));
        Assert.Throws<CryptographicException>(() => before.Unwrap(moved));
    }

    [Fact]
    public void Keys_that_lay_open_are_wrapped_and_say_the_same()
    {
        var folder = Directory.CreateTempSubdirectory().FullName;
        var file = Path.Combine(folder, "key-1.xml");
        File.WriteAllText(file, """
            <key id="1"><descriptor><descriptor><masterKey p4:requiresEncryption="true" xmlns:p4="http://schemas.asp.net/2015/03/dataProtection"><value>c2VjcmV0</value></masterKey></descriptor></descriptor></key>
            """);
        var keys = new WrappedKeys([RandomNumberGenerator.GetBytes(32)]);
        Assert.Equal(1, KeyRing.BringUnder(folder, keys));
        Assert.DoesNotContain("c2VjcmV0", File.ReadAllText(file), StringComparison.Ordinal);
        Assert.Equal("c2VjcmV0", keys.Unwrap(XDocument.Load(file).Descendants("wrapped").Single()).Value);
    }

    [Theory]
    [InlineData("LYRO_ROOMS", "some", "anyone or nobody")]
    [InlineData("LYRO_ROOM_SPACE", "plenty", "a size such as 500 GB")]
    [InlineData("LYRO_ROOM_SPACE", "0 GB", "a size such as 500 GB")]
    [InlineData("LYRO_URL", "not an address", "LYRO_URL is no address")]
    public void A_setting_that_cannot_be_read_is_named(string name, string value, string words)
    {
        var problem = Assert.ThrowsAny<Exception>(() => main.With(new Dictionary<string, string> { [name] = value }));
        Assert.Contains(words, problem.ToString(), StringComparison.Ordinal);
    }

    [Fact]
    public void A_key_that_is_none_is_named_and_never_shown()
    {
        var file = Path.Combine(Directory.CreateTempSubdirectory().FullName, "keys");
        File.WriteAllLines(file, [NewKey(), "c2hvcnQ="]);
        var problem = Assert.ThrowsAny<Exception>(() => main.With(new Dictionary<string, string> { ["LYRO_KEY_FILE"] = file }));
        Assert.Contains("Line 2", problem.ToString(), StringComparison.Ordinal);
        Assert.DoesNotContain("c2hvcnQ", problem.ToString(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("password1234", false)]
    [InlineData("PASSWORDPASSWORD", false)]
    [InlineData("P@ssw0rd2026!", false)]
    [InlineData("qwertyuiop12", false)]
    [InlineData("1q2w3e4r5t6y7u8i", false)]
    [InlineData("abcdefghijklmnop", false)]
    [InlineData("111111111111", false)]
    [InlineData("iloveyou2024", false)]
    [InlineData("quillfeather12", false)]
    [InlineData("engineer2026!", false)]
    [InlineData("lyrotrans-2026", false)]
    [InlineData("ferry weir cobble plum", true)]
    [InlineData("k7#fq0vWz!ma", true)]
    [InlineData("839471026583", true)]
    public void A_password_that_is_guessed_soon_is_refused(string password, bool good) =>
        Assert.Equal(good, GuessablePasswords.Problem(password, ["engineer@quillfeather.example", "engineer", "quillfeather", "example", "lyrotrans"]) is null);

    [Fact]
    public void A_password_without_end_is_refused_at_once() => Assert.Contains("128", GuessablePasswords.Problem(new string('x', 1_000_000), []), StringComparison.Ordinal);
}
