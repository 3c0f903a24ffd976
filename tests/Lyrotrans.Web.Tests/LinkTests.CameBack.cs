using System.Buffers.Binary;
using System.IO.Compression;
using System.Text;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Links;
using Lyrotrans.Web.Tests.Hosting;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Returning;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Lyrotrans.Web.Tests;

// What came back, known by its sound and put at its place.
public sealed partial class LinkTests
{
    private static int Head => s_bell.Length - (2 * Sounds.Frames);

    /// <summary>The bell from a sample on, half as loud and inverted, in a file that says nothing of it.</summary>
    private static byte[] Treated(int from)
    {
        var samples = s_bell[(Head + (2 * from))..];
        for (var i = 0; i < samples.Length; i += 2)
        {
            BinaryPrimitives.WriteInt16LittleEndian(samples.AsSpan(i), (short)(BinaryPrimitives.ReadInt16LittleEndian(samples.AsSpan(i)) / -2));
        }

        return [.. WaveWriter.Head(new PcmLayout(SampleEncoding.Integer16, false, 1, SampleRate.Hz48000, 0, samples.Length / 2)), .. samples];
    }

    private static byte[] Zipped(string name, byte[] content)
    {
        using var zipped = new MemoryStream();
        using (var zip = new ZipArchive(zipped, ZipArchiveMode.Create, leaveOpen: true))
        {
            using var entry = zip.CreateEntry(name).Open();
            entry.Write(content);
        }

        return zipped.ToArray();
    }

    private async Task SendBackAsync(HttpClient receiver, string path, string name, byte[] bytes)
    {
        var begun = await BeginAsync(receiver, path, name, bytes.Length);
        Assert.True(bytes.Length == 0 || (await Person.Stranger(application, "nobody@tarnlane.example").SendAsync(begun.Headers.Location!.ToString(), 0, bytes)).IsSuccessStatusCode);
    }

    private async Task<ReturnCheck> LookedAsync(Guid link)
    {
        var answer = await _sender.PostAsync(_transfer, "handover", "LookThrough", ("link", link.ToString()));
        Assert.True(answer.IsSuccessStatusCode);
        return await application.EndedAsync(d => d.ReturnChecks.AsNoTracking().Where(c => c.LinkId == link).OrderByDescending(c => c.At).FirstAsync());
    }

    private async Task<IReadOnlyList<IntakeItem>> TakenAsync(Guid link, params (string Name, string Value)[] placed)
    {
        Assert.True((await _sender.PostAsync(_transfer, "handover", "Take", [("link", link.ToString()), .. placed])).IsSuccessStatusCode);
        await application.EndedAsync(d => d.Batches.AsNoTracking().Where(b => b.TransferId == _transfer).OrderByDescending(b => b.At).FirstAsync());
        using var scope = application.Services.CreateScope();
        var person = await application.AskAsync(d => d.Users.SingleAsync(u => u.Email == _sender.Email));
        return (await scope.ServiceProvider.GetRequiredService<DeskLoader>().OpenAsync(await application.AskAsync(d => d.Transfers.SingleAsync(t => t.Id == _transfer)), person, CancellationToken.None)).Intake.Items;
    }

    [Fact]
    public async Task What_came_back_is_known_by_its_sound_and_put_at_its_place_with_one_press()
    {
        var (path, id) = await OfferAsync();
        using var receiver = application.Browser();
        await SendBackAsync(receiver, path, "treated.wav", Treated(2400));
        await SendBackAsync(receiver, path, "more.zip", Zipped("takes/tuned.wav", Treated(1200)));
        await SendBackAsync(receiver, path, "broken.zip", Zipped("takes/lost.wav", Treated(1200))[..900]);
        await SendBackAsync(receiver, path, "another.wav", Sounds.Noise(4711));
        await SendBackAsync(receiver, path, "words.txt", Encoding.UTF8.GetBytes("Nothing but words."));
        await SendBackAsync(receiver, path, "nothing.wav", []);
        var look = await LookedAsync(id);
        Assert.Equal(WorkState.Done, look.State);
        var rows = CameBackDesk.RowsOf(look).ToDictionary(r => r.Name);
        Assert.Equal(["another.wav", "broken.zip", "nothing.wav", "takes/tuned.wav", "treated.wav"], rows.Keys.Order());
        Assert.Equal((CameBackKind.Known, true, 2400L), (rows["treated.wav"].Kind, rows["treated.wav"].IsSure, rows["treated.wav"].Sample!.Value));
        Assert.Equal((CameBackKind.Known, true, 1200L), (rows["takes/tuned.wav"].Kind, rows["takes/tuned.wav"].IsSure, rows["takes/tuned.wav"].Sample!.Value));
        Assert.Contains("6.0 dB softer. Its polarity is inverted.", rows["treated.wav"].Verdict, StringComparison.Ordinal);
        Assert.Equal((CameBackKind.New, CameBackKind.Unread, CameBackKind.Unread), (rows["another.wav"].Kind, rows["nothing.wav"].Kind, rows["broken.zip"].Kind));
        Assert.Equal("4 sounds looked at. 1 other file is no sound and not compared.", look.Doing);
        var handover = await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/handover");
        Assert.Contains("6.0 dB softer. Its polarity is inverted.", handover, StringComparison.Ordinal);
        Assert.DoesNotContain("returns/", handover, StringComparison.Ordinal);

        // Nothing of the look stays, and what has no place is taken without one.
        Assert.Empty(Directory.EnumerateDirectories(Path.Combine(application.Folder, "returns", id.ToString("N"))));
        var items = await TakenAsync(id, ("placed", "treated.wav"), ("placed", "takes/tuned.wav"), ("placed", "another.wav"));
        Assert.Equal(new Placement(PlacementRule.Signal, 2400), items.Single(i => i.Name == "treated.wav").Placement);
        Assert.Equal(new Placement(PlacementRule.Signal, 1200), items.Single(i => i.Name == "takes/tuned.wav").Placement);
        Assert.Equal(new Placement(), items.Single(i => i.Name == "another.wav").Placement);
    }

    [Fact]
    public async Task What_came_after_the_look_is_not_put_where_another_file_of_its_name_lay()
    {
        var (path, id) = await OfferAsync();
        using var receiver = application.Browser();
        await SendBackAsync(receiver, path, "again.wav", Treated(600));
        Assert.Equal(600, CameBackDesk.RowsOf(await LookedAsync(id)).Single().Sample);
        Assert.True((await _sender.PostAsync(_transfer, "handover", "ThrowAway", ("link", id.ToString()))).IsSuccessStatusCode);
        await SendBackAsync(receiver, path, "again.wav", Sounds.Noise(4712));
        Assert.Contains("Not looked at yet: again.wav.", await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/handover"), StringComparison.Ordinal);
        Assert.Equal(new Placement(), (await TakenAsync(id, ("placed", "again.wav"))).Single(i => i.Name == "again.wav").Placement);
    }

    [Fact]
    public async Task Archives_together_unpack_to_no_more_than_may_come_by_the_link()
    {
        var (path, id) = await OfferAsync(("back", "0.00005"));
        using var receiver = application.Browser();
        await SendBackAsync(receiver, path, "one.zip", Zipped("one.txt", new byte[40_000]));
        await SendBackAsync(receiver, path, "two.zip", Zipped("two.txt", new byte[40_000]));
        var row = Assert.Single(CameBackDesk.RowsOf(await LookedAsync(id)));
        Assert.Equal(("two.zip", CameBackKind.Unread), (row.Name, row.Kind));
        Assert.Equal(WorkState.Failed, (await ComparedAsync(receiver, path, ("three.zip", Zipped("three.txt", new byte[40_000])), ("four.zip", Zipped("four.txt", new byte[40_000])))).State);
    }
}
