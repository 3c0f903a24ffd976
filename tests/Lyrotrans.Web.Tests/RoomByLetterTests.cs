using System.Net;
using System.Text.RegularExpressions;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

/// <summary>Where letters can be sent, a room is opened by the link of one, and the page says nothing of who has an account.</summary>
public sealed partial class RoomByLetterTests(TestApplication main)
{
    private static async Task<string> AskAsync(Person person, string password = Person.Password) => Changing().Replace(
        await (await person.PostPlainAsync("/open-a-room", new() { ["Room"] = "Lantern Street", ["EngineerName"] = "Engineer", ["Email"] = person.Email, ["Password"] = password })).Content.ReadAsStringAsync(), "…");

    // Lines of a letter are cut and joined again by a sign at their ends, RFC 2045.
    private static async Task<string> LetterAsync(MailCatcher server, string to)
    {
        for (var tries = 0; tries < 200; tries++, await Task.Delay(50))
        {
            var said = string.Join('\n', server.Said);
            var at = said.LastIndexOf($"RCPT TO:<{to}>", StringComparison.Ordinal);
            if (at >= 0 && said.IndexOf("\n.\n", at, StringComparison.Ordinal) is > 0 and var end)
            {
                return said[at..end].Replace("=\n", "", StringComparison.Ordinal).Replace("=3D", "=", StringComparison.Ordinal);
            }
        }

        throw new TimeoutException("No letter came.");
    }

    [Fact]
    public async Task A_room_is_opened_by_the_link_of_a_letter_and_the_page_says_the_same_of_every_address()
    {
        using var server = new MailCatcher(refuses: false);
        using var application = main.With(new Dictionary<string, string> { ["LYRO_MAIL"] = $"smtp://127.0.0.1:{server.Port}", ["LYRO_URL"] = "http://localhost" });
        var person = Person.Stranger(application, "engineer@quillfeather.example");
        var free = await AskAsync(person);
        Assert.Contains("A letter is on its way", free, StringComparison.Ordinal);
        Assert.Equal(0, await application.AskAsync(d => d.Users.CountAsync()));
        var letter = await LetterAsync(server, person.Email);
        var link = Uri.UnescapeDataString(Link().Match(letter).Groups[1].Value);
        Assert.DoesNotContain("quillfeather", link, StringComparison.Ordinal);
        Assert.Contains("Engineer opens", await person.Browser.GetStringAsync($"/open-a-room?link={Uri.EscapeDataString(link)}"), StringComparison.Ordinal);
        var opened = await person.PostPlainAsync("/open-a-room?handler=Follow", new() { ["link"] = link }, tokenOf: "/open-a-room");
        Assert.Equal(HttpStatusCode.Redirect, opened.StatusCode);
        Assert.Contains("Lantern Street", await person.Browser.GetStringAsync("/"), StringComparison.Ordinal);
        Assert.True(await application.AskAsync(d => d.Users.Select(u => u.EmailConfirmed).SingleAsync()));
        await Person.SignInAsync(application, person.Email, Person.Password);

        // Once: the address has an account now. And whoever asks with it sees what everybody sees.
        var again = await Person.Stranger(application, person.Email).PostPlainAsync("/open-a-room?handler=Follow", new() { ["link"] = link }, tokenOf: "/open-a-room");
        Assert.Equal(HttpStatusCode.OK, again.StatusCode);
        Assert.Equal(1, await application.AskAsync(d => d.Rooms.CountAsync()));
        Assert.Equal(free, await AskAsync(Person.Stranger(application, person.Email)));
        for (var tries = 0; !(await LetterAsync(server, person.Email)).Contains("has an account already", StringComparison.Ordinal); tries++)
        {
            Assert.True(tries < 100);
            await Task.Delay(50);
        }

        // What is wrong with a password is wrong whoever has the address.
        var weak = await AskAsync(Person.Stranger(application, "new@hall.example"), "aaaaaaaaaaaaa");
        Assert.DoesNotContain("on its way", weak, StringComparison.Ordinal);
        Assert.Equal(weak.Replace("new@hall.example", "", StringComparison.Ordinal), (await AskAsync(Person.Stranger(application, person.Email), "aaaaaaaaaaaaa")).Replace(person.Email, "", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_link_that_was_changed_or_is_none_opens_nothing()
    {
        using var application = main.With(new Dictionary<string, string> { ["LYRO_MAIL"] = "smtp://127.0.0.1:1" });
        var person = Person.Stranger(application, "engineer@quillfeather.example");
        foreach (var link in new[] { "none", "CfDJ8" + new string('A', 300), " " })
        {
            var answer = await person.PostPlainAsync("/open-a-room?handler=Follow", new() { ["link"] = link }, tokenOf: "/open-a-room");
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        }

        Assert.Equal(0, await application.AskAsync(d => d.Rooms.CountAsync()));
    }

    [GeneratedRegex("CfDJ8[\\w-]+|v=[\\w-]+")]
    private static partial Regex Changing();

    [GeneratedRegex("/open-a-room\\?link=(\\S+)")]
    private static partial Regex Link();
}
