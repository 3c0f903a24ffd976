using System.IO.Compression;
using System.Net;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

/// <summary>A room takes no more than it may: said before anything is sent or built, shown, and warned of.</summary>
public sealed class RoomSpaceTests(TestApplication main)
{
    private const int Most = 2_000_000;

    private static string Space(string page) => page[page.IndexOf("Lantern Street:", StringComparison.Ordinal)..].Split('<')[0];

    private TestApplication Small() => main.With(new Dictionary<string, string> { ["LYRO_ROOM_SPACE"] = "2 MB" });

    [Fact]
    public async Task What_does_not_fit_is_refused_before_it_is_sent_and_other_rooms_have_their_own()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfer = await person.BeginAsync("Planetarium show");
        var batch = await person.BatchAsync(transfer);
        Assert.Equal(HttpStatusCode.Created, (await person.TryUploadAsync(batch, "first.wav", Most / 2)).StatusCode);

        // What was announced is spoken for, though nothing of it is here.
        var refused = await person.TryUploadAsync(batch, "second.wav", (Most / 2) + 1);
        Assert.Equal(HttpStatusCode.InsufficientStorage, refused.StatusCode);
        Assert.Contains("second.wav needs 1.0 MB, and the room has 1.0 MB left of 2.0 MB", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        var other = await Person.OpenRoomAsync(application, "Quillfeather Hall");
        Assert.Equal(HttpStatusCode.Created, (await other.TryUploadAsync(await other.BatchAsync(await other.BeginAsync("Night bus")), "second.wav", Most)).StatusCode);
    }

    [Fact]
    public async Task What_is_taken_is_shown_and_a_room_that_is_nearly_full_is_told_so()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfer = await person.BeginAsync("Planetarium show");
        var bell = Sounds.Noise(91);
        await person.BringInAsync(transfer, ("bell.wav", bell));
        var shown = await person.Browser.GetStringAsync("/");
        Assert.Matches("Lantern Street: [0-9.]+ kB of 2.0 MB used", shown);
        Assert.DoesNotContain("nearly full", shown, StringComparison.Ordinal);

        // A row from before sizes were kept is measured when somebody asks.
        var before = await application.AskAsync(d => d.RoomMedia.Where(m => m.Bytes == bell.Length).ExecuteUpdateAsync(m => m.SetProperty(x => x.Bytes, (long?)null)));
        Assert.Equal(1, before);
        Assert.Contains(Space(shown), await person.Browser.GetStringAsync("/"), StringComparison.Ordinal);
        Assert.Equal(0, await application.AskAsync(d => d.RoomMedia.CountAsync(m => m.Bytes == null)));

        await application.AskAsync(d => d.RoomMedia.Where(m => m.Bytes == bell.Length).ExecuteUpdateAsync(m => m.SetProperty(x => x.Bytes, Most - 1000)));
        Assert.Contains("nearly full", await person.Browser.GetStringAsync("/"), StringComparison.Ordinal);
        var build = await person.PostAsync(transfer, "build", "Build");
        Assert.Equal(HttpStatusCode.BadRequest, build.StatusCode);
        Assert.Contains("The package needs", await build.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Contains("The package needs", await person.Browser.GetStringAsync($"/transfers/{transfer}/build"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_archive_unpacks_to_no_more_than_the_room_has()
    {
        using var application = Small();
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfer = await person.BeginAsync("Planetarium show");
        using var packed = new MemoryStream();
        using (var zip = new ZipArchive(packed, ZipArchiveMode.Create, leaveOpen: true))
        {
            using var silence = zip.CreateEntry("silence.wav").Open();
            silence.Write(new byte[2 * Most]);
        }

        await person.BringInAsync(transfer, ("silence.zip", packed.ToArray()), ("bell.wav", Sounds.Noise(92)));
        Assert.Contains("Up to here it needs more than", await person.Browser.GetStringAsync($"/transfers/{transfer}/intake"), StringComparison.Ordinal);
        Assert.Single((await person.SurveyAsync(transfer)).GetProperty("media").EnumerateArray());
        Assert.Equal(1, await application.AskAsync(d => d.RoomMedia.CountAsync()));
    }
}
