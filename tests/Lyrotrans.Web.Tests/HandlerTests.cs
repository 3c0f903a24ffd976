using System.Net;
using System.Reflection;
using Lyrotrans.Web.Pages;
using Lyrotrans.Web.Tests.Hosting;

namespace Lyrotrans.Web.Tests;

/// <summary>Every handler that changes a transfer, as the pages declare them: what is stale is told with who and what, and what is odd is refused in words.</summary>
public sealed class HandlerTests(TestApplication application) : IAsyncLifetime
{
    private Person _person = null!;
    private Guid _transfer;

    /// <summary>Page and handler of each change that is made on a revision.</summary>
    public static TheoryData<string, string> Changes => new(
        from page in typeof(DeskPage).Assembly.GetTypes()
        where page.IsSubclassOf(typeof(DeskPage)) && !page.IsAbstract
        from method in page.GetMethods(BindingFlags.Public | BindingFlags.Instance)
        where method.Name.StartsWith("OnPost", StringComparison.Ordinal) && method.GetParameters().Any(p => p.Name == "from")
        select (page.Name[..^"Model".Length].Replace("Page", string.Empty, StringComparison.Ordinal).ToLowerInvariant(), method.Name["OnPost".Length..].Replace("Async", string.Empty, StringComparison.Ordinal)));

    // One transfer for all of them: each makes its revisions on the ones before.
    private static Task<(Person Person, Guid Transfer)>? s_broughtIn;

    public async ValueTask InitializeAsync() => (_person, _transfer) = await (s_broughtIn ??= BringInAsync());

    private async Task<(Person Person, Guid Transfer)> BringInAsync()
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Planetarium show");
        await person.BringInAsync(transfer, ("bell.wav", Sounds.Noise(61)));
        return (person, transfer);
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public void Every_page_is_asked() => Assert.True(Changes.Count > 30, $"{Changes.Count} changes");

    [Theory]
    [MemberData(nameof(Changes))]
    public async Task What_is_stale_is_told_and_what_is_odd_is_refused(string page, string handler)
    {
        var stale = await _person.PostFromAsync(_transfer, 9999, page, handler);
        Assert.Equal(HttpStatusCode.Conflict, stale.StatusCode);
        Assert.Matches("made revision [0-9]+ in the meantime \\(.+\\)", await stale.Content.ReadAsStringAsync());
        foreach (var odd in new[] { "", "\u202e", "-1", new string('9', 400), "%00" })
        {
            var fields = new[] { "number", "track", "field", "value", "item", "rule", "sample", "media", "rate", "name", "tracks", "sessionName", "frameRate", "start", "how", "law", "toChosen", "clips.file" };
            var answer = await _person.PostAsync(_transfer, page, handler, [.. fields.Select(f => (f, odd))]);
            Assert.True((int)answer.StatusCode < 500, $"{handler} with \"{odd}\": {answer.StatusCode}");
        }
    }

    [Fact]
    public async Task A_part_of_a_page_sends_its_page_to_the_sign_in_and_never_shows_it_in_the_part()
    {
        var ask = new HttpRequestMessage(HttpMethod.Get, $"/transfers/{_transfer}/newer?from=1");
        ask.Headers.Add("HX-Request", "true");
        ask.Headers.Add("HX-Current-URL", $"http://localhost/transfers/{_transfer}/prepare");
        var answer = await application.Browser().SendAsync(ask);
        Assert.Equal(HttpStatusCode.Unauthorized, answer.StatusCode);
        Assert.Equal([$"/sign-in?ReturnUrl=%2Ftransfers%2F{_transfer}%2Fprepare"], answer.Headers.GetValues("HX-Redirect"));
        Assert.DoesNotContain("name=\"Password\"", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }
}
