using System.IO.Compression;
using System.Net;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Tests.Hosting;
using Lyrotrans.Workflow.Archiving;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Lyrotrans.Web.Tests;

/// <summary>The archive of a whole transfer: fetched, opened in another room, and the same there; what is not whole opens nothing.</summary>
public sealed class ArchiveTests(TestApplication application) : IAsyncLifetime
{
    private static readonly byte[] s_horn = Sounds.Noise(21);
    private static readonly byte[] s_cello = Sounds.Noise(22);
    private static readonly byte[] s_earlier = Sounds.Noise(23);
    private static readonly PackageMaker s_maker = new(new DateTimeOffset(2026, 3, 21, 10, 0, 0, TimeSpan.Zero), new SigningKey([.. Enumerable.Range(1, 32).Select(b => (byte)b)]));
    private Person _owner = null!;
    private Person _other = null!;
    private Guid _transfer;

    public async ValueTask InitializeAsync()
    {
        _owner = await Person.OpenRoomAsync(application, $"Quillfeather {Guid.NewGuid():N}");
        _other = await Person.OpenRoomAsync(application, $"Lantern House {Guid.NewGuid():N}");
        _transfer = await _owner.BeginAsync("Lantern suite");

        // One file comes once more in another state: the earlier one is an original too.
        await _owner.BringInAsync(_transfer, ("tapes/horn.wav", s_earlier));
        await _owner.BringInAsync(_transfer, ("tapes/horn.wav", s_horn), ("tapes/cello.wav", s_cello));
        Assert.True((await _owner.PostAsync(_transfer, "prepare", "Options", ("files.deliveredRate", "96000"), ("files.namePattern", "{date}_{track}"))).IsSuccessStatusCode);
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task<byte[]> FetchAsync() => await _owner.Browser.GetByteArrayAsync($"/transfers/{_transfer}/archive");

    private Task<List<Revision>> RevisionsAsync(Guid transfer) => application.AskAsync(d => d.Revisions.AsNoTracking().Where(r => r.TransferId == transfer).OrderBy(r => r.Number).ToListAsync());

    private async Task<byte[]> PackageAsync(Guid transfer)
    {
        using var scope = application.Services.CreateScope();
        var desks = scope.ServiceProvider.GetRequiredService<DeskLoader>();
        var current = await application.AskAsync(d => d.Transfers.Where(t => t.Id == transfer).Select(t => t.Current).SingleAsync());
        var build = new PackageBuild { Id = Guid.NewGuid(), TransferId = transfer, Revision = current, ReceiverId = PackageBuild.OnlyReceiver, By = "test", At = DateTimeOffset.UtcNow };
        var (plan, media) = await desks.PlanAsync(build, TestContext.Current.CancellationToken);
        using var zip = new MemoryStream();
        PackageBuilder.Build(plan, new StoredMedia(media), zip, s_maker, _ => { }, TestContext.Current.CancellationToken);
        return zip.ToArray();
    }

    [Fact]
    public async Task It_opens_whole_in_another_room_and_makes_the_same_package_to_the_byte()
    {
        var zip = await FetchAsync();
        var opened = await _other.BeginAsync("From the archive");
        await _other.BringInAsync(opened, ("suite_archive.zip", zip));
        var (here, there) = (await RevisionsAsync(_transfer), await RevisionsAsync(opened));
        Assert.Equal(here.Select(r => (r.Number, r.Parent, r.Words, r.Name, r.By, r.IntakeSha, r.SessionSha, r.ReceiversSha)), there.Select(r => (r.Number, r.Parent, r.Words, r.Name, r.By, r.IntakeSha, r.SessionSha, r.ReceiversSha)));
        Assert.Equal(here.Select(r => r.At.ToUnixTimeMilliseconds()), there.Select(r => r.At.ToUnixTimeMilliseconds()));
        Assert.Equal(await PackageAsync(_transfer), await PackageAsync(opened));

        // An earlier revision opens there too, with the file that it had.
        var first = there.First(r => r.IntakeSha != there[^1].IntakeSha);
        Assert.True((await _other.PostAsync(opened, "revisions", "Open", ("number", $"{first.Number}"))).IsSuccessStatusCode);
        Assert.True((await _other.BuildAsync(opened)).Passed);
    }

    [Fact]
    public async Task Every_original_is_in_it_bit_for_bit_by_its_name()
    {
        using var zip = new ZipArchive(new MemoryStream(await FetchAsync()));
        byte[] Read(ZipArchiveEntry entry)
        {
            using var stream = entry.Open();
            using var bytes = new MemoryStream();
            stream.CopyTo(bytes);
            return bytes.ToArray();
        }

        Assert.Equal(s_horn, Read(zip.GetEntry("originals/tapes/horn.wav")!));
        Assert.Equal(s_cello, Read(zip.GetEntry("originals/tapes/cello.wav")!));
        Assert.Equal(s_earlier, Read(zip.Entries.Single(e => e.FullName.StartsWith("earlier/", StringComparison.Ordinal))));
    }

    [Theory]
    [InlineData("an original", "Its bytes are others")]
    [InlineData("a document", "Its bytes are others")]
    [InlineData("an original less", "not in the archive")]
    [InlineData("a list that points out of it", "no proper name")]
    [InlineData("a list without its revision", "revision in force")]
    [InlineData("a list of tomorrow", "version 9")]
    [InlineData("a document that is none", "cannot be read")]
    public async Task What_is_not_whole_opens_nothing_and_says_why(string what, string words)
    {
        var opened = await _other.BeginAsync("Broken");
        var batch = await _other.BatchAsync(opened);
        var bytes = Changed(await FetchAsync(), what);
        await _other.SendAsync(await _other.BeginUploadAsync(batch, "broken.zip", bytes.Length), 0, bytes);
        await _other.FinishAsync(batch);
        var ended = await application.EndedAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.Id == batch));
        Assert.Equal(WorkState.Failed, ended.State);
        Assert.Contains(words, ended.Error!, StringComparison.Ordinal);
        Assert.Empty(await RevisionsAsync(opened));
    }

    [Fact]
    public async Task A_transfer_with_a_session_stays_as_it_is()
    {
        var zip = await FetchAsync();
        var batch = await _owner.BatchAsync(_transfer);
        await _owner.SendAsync(await _owner.BeginUploadAsync(batch, "again.zip", zip.Length), 0, zip);
        var before = await RevisionsAsync(_transfer);
        await _owner.FinishAsync(batch);
        var ended = await application.EndedAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.Id == batch));
        Assert.Contains("has a session already", ended.Error ?? string.Empty, StringComparison.Ordinal);
        Assert.Equal(before.Count, (await RevisionsAsync(_transfer)).Count);
    }

    [Fact]
    public async Task Originals_of_some_tracks_are_fetched_with_their_names_or_as_delivered()
    {
        var survey = await _owner.SurveyAsync(_transfer);
        var horn = survey.GetProperty("tracks").EnumerateArray().Single(t => t.GetProperty("name").GetString() == "horn").GetProperty("id").GetString()!;
        async Task<List<(string, string)>> Of(string query)
        {
            using var zip = new ZipArchive(new MemoryStream(await _owner.Browser.GetByteArrayAsync($"/transfers/{_transfer}/originals?track={Uri.EscapeDataString(horn)}{query}")));
            return [.. zip.Entries.Select(e =>
            {
                using var stream = e.Open();
                return (e.FullName, Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(stream)));
            })];
        }

        Assert.Equal([("horn.wav", Sounds.Hash(s_horn))], await Of(string.Empty));
        Assert.Equal([($"{DateTime.UtcNow:yyyy-MM-dd}_horn.wav", Sounds.Hash(s_horn))], await Of("&delivered=true"));
        Assert.Equal(HttpStatusCode.BadRequest, (await _owner.Browser.GetAsync($"/transfers/{_transfer}/originals")).StatusCode);
    }

    private static byte[] Changed(byte[] zip, string what)
    {
        using var bytes = new MemoryStream();
        bytes.Write(zip);
        using (var archive = new ZipArchive(bytes, ZipArchiveMode.Update, leaveOpen: true))
        {
            var name = what switch
            {
                "an original" or "an original less" => "originals/tapes/cello.wav",
                "a document" => archive.Entries.First(e => e.FullName.StartsWith("documents/", StringComparison.Ordinal)).FullName,
                _ => TransferArchive.ListName,
            };
            byte[] content;
            using (var stream = archive.GetEntry(name)!.Open())
            {
                using var read = new MemoryStream();
                stream.CopyTo(read);
                content = read.ToArray();
            }

            archive.GetEntry(name)!.Delete();
            switch (what)
            {
                case "an original less":
                    name = "not-listed";
                    break;
                case "an original" or "a document":
                    content[^2] ^= 1;
                    break;
                case "a document that is none":
                    // With its own sum, so that only reading it tells.
                    var list = TransferArchive.FromJson(content, "x");
                    var none = "{ \"no\": }"u8.ToArray();
                    var file = new ArchivedFile("documents/none.json", Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(none)), none.Length);
                    Put("documents/none.json", none);
                    content = (list with { Documents = [.. list.Documents, file], Revisions = [.. list.Revisions.Select(r => r with { Intake = file.Sha256 })] }).ToJson();
                    break;
                default:
                    var of = TransferArchive.FromJson(content, "x");
                    content = (what switch
                    {
                        "a list of tomorrow" => of with { LyrotransArchive = 9 },
                        "a list without its revision" => of with { Current = 99 },
                        _ => of with { Originals = [.. of.Originals.Select(o => o with { Path = "../" + o.Path })] },
                    }).ToJson();
                    break;
            }

            Put(name, content);
            void Put(string path, byte[] put)
            {
                using var into = archive.CreateEntry(path).Open();
                into.Write(put);
            }
        }

        return bytes.ToArray();
    }
}
