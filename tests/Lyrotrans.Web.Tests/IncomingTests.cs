using System.IO.Compression;
using System.Net;
using System.Text;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

/// <summary>Three rooms: one sends a package, another brings it into an empty transfer and replies, a third gets it from that one.</summary>
public sealed class IncomingTests(TestApplication application)
{
    private async Task<(Person Sender, Guid Transfer, PackageBuild Build, byte[] Zip)> SentAsync(uint seed)
    {
        var sender = await Person.OpenRoomAsync(application, "Quillfeather Hall");
        var transfer = await sender.BeginAsync("Three bells, one lantern");
        await sender.BringInAsync(transfer, ("bell.wav", Sounds.Noise((int)seed)), ("lantern.wav", Sounds.Noise((int)seed + 1)));
        var build = await sender.BuildAsync(transfer);
        Assert.True(build.Passed, build.Verdict);
        return (sender, transfer, build, await sender.Browser.GetByteArrayAsync($"/builds/{build.Id}/package"));
    }

    private static List<string> SoundsOf(byte[] zip)
    {
        using var archive = new ZipArchive(new MemoryStream(zip));
        return [.. archive.Entries.Where(e => e.Name.EndsWith(".wav", StringComparison.Ordinal)).Select(e => e.FullName)];
    }

    [Fact]
    public async Task A_package_is_recognised_in_an_empty_transfer_replied_to_and_passed_on_to_a_third_room()
    {
        var (sender, sent, first, zip) = await SentAsync(301);
        var mixer = await Person.OpenRoomAsync(application, "Tarn Lane");
        var transfer = await mixer.BeginAsync("What Quillfeather sent");
        await mixer.BringInAsync(transfer, ("package.zip", zip));
        var page = await mixer.Browser.GetStringAsync($"/transfers/{transfer}/intake");
        Assert.Contains($"data-package=\"{first.ManifestSha256}\"", page, StringComparison.Ordinal);
        Assert.Contains("data-whole=\"yes\"", page, StringComparison.Ordinal);
        Assert.Contains("Whole, signer unknown", page, StringComparison.Ordinal);
        Assert.Contains("All media is here", page, StringComparison.Ordinal);
        Assert.Contains("brought in the package of Three bells, one lantern", (await application.AskAsync(d => d.Revisions.Where(r => r.TransferId == transfer).OrderBy(r => r.Number).FirstAsync())).Words, StringComparison.Ordinal);

        // To a third room, as any session.
        var passed = await mixer.BuildAsync(transfer);
        Assert.True(passed.Passed, passed.Verdict);
        var on = await mixer.Browser.GetByteArrayAsync($"/builds/{passed.Id}/package");
        Assert.Equal(SoundsOf(zip).Select(Path.GetFileName), SoundsOf(on).Select(Path.GetFileName));

        // Nothing was added: nothing to reply with, and nothing is changed by asking.
        var before = (await application.AskAsync(d => d.Transfers.SingleAsync(t => t.Id == transfer))).Current;
        var refused = await mixer.PostAsync(transfer, "prepare", "Reply", ("manifest", first.ManifestSha256!));
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains("Nothing was added here", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(before, (await application.AskAsync(d => d.Transfers.SingleAsync(t => t.Id == transfer))).Current);

        await mixer.BringInAsync(transfer, ("hand drum.wav", Sounds.Noise(311)));
        Assert.True((await mixer.PostAsync(transfer, "prepare", "Reply", ("manifest", first.ManifestSha256!))).IsSuccessStatusCode);
        Assert.Contains("<b>A reply</b>", await mixer.Browser.GetStringAsync($"/transfers/{transfer}/prepare"), StringComparison.Ordinal);
        var reply = await mixer.BuildAsync(transfer);
        Assert.True(reply.Passed, reply.Verdict);
        var back = await mixer.Browser.GetByteArrayAsync($"/builds/{reply.Id}/package");
        Assert.Equal(["03_hand_drum.wav"], SoundsOf(back).Select(Path.GetFileName));

        // What is added after that gets the next number when it is asked for; what has one keeps it.
        await mixer.BringInAsync(transfer, ("frame drum.wav", Sounds.Noise(312)));
        Assert.True((await mixer.PostAsync(transfer, "prepare", "Reply", ("manifest", first.ManifestSha256!))).IsSuccessStatusCode);
        var numbered = await mixer.Browser.GetStringAsync($"/transfers/{transfer}/prepare");
        Assert.Contains("03_hand_drum", numbered, StringComparison.Ordinal);
        Assert.Contains("04_frame_drum", numbered, StringComparison.Ordinal);

        // Where it came from: the tracks that were there, and the one that was added, at its place.
        await sender.BringInAsync(sent, ("reply.zip", back));
        var home = await sender.Browser.GetStringAsync($"/transfers/{sent}/intake");
        Assert.Contains("Reply: Three bells, one lantern", home, StringComparison.Ordinal);
        Assert.Contains("a package of this transfer", home, StringComparison.Ordinal);
        var survey = await sender.Browser.GetStringAsync($"/transfers/{sent}/prepare");
        Assert.Contains("hand drum", survey, StringComparison.Ordinal);
        Assert.Equal(3, survey.Split("data-track=").Length - 1);

        // No reply any more: all of it goes.
        Assert.True((await mixer.PostAsync(transfer, "prepare", "Reply")).IsSuccessStatusCode);
        Assert.DoesNotContain("<b>A reply</b>", await mixer.Browser.GetStringAsync($"/transfers/{transfer}/prepare"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_altered_package_comes_in_with_what_is_wrong_said_and_no_package_is_believed_because_of_its_name()
    {
        var (_, _, _, zip) = await SentAsync(321);
        using var changed = new MemoryStream();
        changed.Write(zip);
        using (var archive = new ZipArchive(changed, ZipArchiveMode.Update, leaveOpen: true))
        {
            var entry = archive.Entries.First(e => e.Name == "01_bell.wav");
            using var sound = entry.Open();
            sound.Seek(-1, SeekOrigin.End);
            var last = sound.ReadByte();
            sound.Seek(-1, SeekOrigin.End);
            sound.WriteByte((byte)(last ^ 1));
        }

        var mixer = await Person.OpenRoomAsync(application, "Tarn Lane");
        var transfer = await mixer.BeginAsync("Changed on the way");
        await mixer.BringInAsync(transfer, ("package.zip", changed.ToArray()));
        var page = await mixer.Browser.GetStringAsync($"/transfers/{transfer}/intake");
        Assert.Contains("data-whole=\"no\"", page, StringComparison.Ordinal);
        Assert.Contains("1 file is not as sent", page, StringComparison.Ordinal);
        Assert.Contains("1 media file missing", page, StringComparison.Ordinal);

        var named = await mixer.BeginAsync("Only a name");
        await mixer.BringInAsync(named, ("x/manifest.json", Encoding.UTF8.GetBytes("""{ "lyrotransPackage": "no" }""")), ("x/bell.wav", Sounds.Noise(331)));
        Assert.DoesNotContain("data-package=", await mixer.Browser.GetStringAsync($"/transfers/{named}/intake"), StringComparison.Ordinal);
    }
}
