using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Web.Tests.Hosting;

namespace Lyrotrans.Web.Tests;

/// <summary>Names with marks that are not seen: shown for what they are on every page and in what scripts draw, and cleaned in what is delivered.</summary>
public sealed class MarkedTests(TestApplication application)
{
    [Fact]
    public async Task Marks_in_names_are_shown_on_every_stage_and_never_sent()
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Planet\u202Ewohs");
        var bell = new Track { Id = "bell", Name = "Be\u200Bll \u202Egnp", Kind = TrackKind.Notes, Parts = [new NotePart { Id = "p", Name = "Pa\u2066rt", LengthQuarters = 4, Notes = [new Note(0, 960, 1, 60, 90)] }] };
        var session = new Session { Name = "Sui\u200Fte", Rate = SampleRate.Hz48000, Tracks = [bell], Markers = [new Marker("m", "La\uFEFFmps", 48_000)] };
        await person.BringInAsync(transfer, ("suite\u200D.session.json", SessionDocumentWriter.Write(session)));
        foreach (var stage in new[] { "intake", "survey", "prepare", "build" })
        {
            var page = await person.Browser.GetStringAsync($"/transfers/{transfer}/{stage}");
            Assert.Contains("Planet[U+202E]wohs", page, StringComparison.Ordinal);
            Assert.DoesNotContain("202E;", page, StringComparison.OrdinalIgnoreCase);
            Assert.DoesNotContain(page.EnumerateRunes(), Core.Naming.HiddenMarks.Is);
        }

        var drawn = await person.SurveyAsync(transfer);
        Assert.Equal("Be[U+200B]ll [U+202E]gnp", drawn.GetProperty("tracks")[0].GetProperty("name").GetString());
        Assert.DoesNotContain("u202E", drawn.GetRawText(), StringComparison.OrdinalIgnoreCase);
        var refused = await person.PostAsync(transfer, "prepare", "Set", ("track", "no\u202Esuch"), ("field", "treatment"), ("value", "notes"));
        Assert.False(refused.IsSuccessStatusCode);
        Assert.DoesNotContain((await refused.Content.ReadAsStringAsync()).EnumerateRunes(), Core.Naming.HiddenMarks.Is);
        var built = await person.BuildAsync(transfer);
        Assert.True(built.Passed);
        Assert.DoesNotContain(built.FileName!.EnumerateRunes(), Core.Naming.HiddenMarks.Is);
    }
}
