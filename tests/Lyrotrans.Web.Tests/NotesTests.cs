using System.Net;
using System.Text.Json;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Web.Tests.Hosting;

namespace Lyrotrans.Web.Tests;

/// <summary>A session of very many notes is answered in parts.</summary>
public sealed class NotesTests(TestApplication application)
{
    private const int Count = 230_000;
    private const int First = 20_000;

    [Fact]
    public async Task Very_many_notes_come_in_parts_in_their_order_and_none_is_lost()
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Planetarium show");
        var notes = Enumerable.Range(0, Count).Select(i => new Note(i * 10, 5, 1, i % 128, 90)).ToValueArray();
        var keys = new Track { Id = "keys", Name = "Keys", Kind = TrackKind.Notes, Parts = [new NotePart { Id = "p", Name = "Keys", LengthQuarters = Count, Notes = notes }] };
        var few = keys with { Id = "few", Name = "Few", Parts = [keys.Parts[0] with { Id = "q", Notes = notes.Take(3).ToValueArray() }] };
        await person.BringInAsync(transfer, ("many.session.json", SessionDocumentWriter.Write(new Session { Name = "Many", Rate = SampleRate.Hz48000, Tracks = [keys, few] })));
        var first = (await person.SurveyAsync(transfer)).GetProperty("tracks");
        Assert.Equal((First, Count), (first[0].GetProperty("notes").GetArrayLength(), first[0].GetProperty("noteCount").GetInt32()));
        Assert.Equal((0, 3), (first[1].GetProperty("notes").GetArrayLength(), first[1].GetProperty("noteCount").GetInt32()));
        var (all, answers) = (first[0].GetProperty("notes").EnumerateArray().Select(n => n[2].GetInt32()).ToList(), 0);
        while (all.Count < Count)
        {
            var part = JsonDocument.Parse(await person.Browser.GetStringAsync($"/transfers/{transfer}/notes/{first[0].GetProperty("id").GetString()}?from={all.Count}")).RootElement;
            Assert.InRange(part.GetArrayLength(), 1, 200_000);
            all.AddRange(part.EnumerateArray().Select(n => n[2].GetInt32()));
            answers++;
        }

        Assert.Equal(2, answers);
        Assert.Equal(notes.Select(n => n.Key), all);
        foreach (var (path, status) in new[] { ("keys?from=-1", HttpStatusCode.BadRequest), ("keys?from=x", HttpStatusCode.BadRequest), ("none?from=0", HttpStatusCode.NotFound), ($"keys?from={Count}", HttpStatusCode.OK) })
        {
            Assert.Equal(status, (await person.Browser.GetAsync($"/transfers/{transfer}/notes/{path}")).StatusCode);
        }
    }
}
