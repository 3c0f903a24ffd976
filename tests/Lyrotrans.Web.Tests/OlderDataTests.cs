using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Upgrading;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;
using System.Net;
using System.Runtime.InteropServices;
using System.Text;
using System.Text.RegularExpressions;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Lyrotrans.Web.Tests;

/// <summary>
/// A data folder and database of before rooms owned their media. One room brought in sound (as a zip and alone), joined a pair and built; another named the
/// hashes of that sound in a document of its own, and built too.
/// </summary>
public sealed class OlderDataTests(TestApplication main) : IDisposable
{
    private const string Password = "twelve-letters-1";
    private readonly TestApplication _application = main.OnOlderData(Fixtures.Path("older/data-1.tar.gz"));

    public void Dispose() => _application.Dispose();

    [Fact]
    public async Task It_opens_with_everything_in_it_and_only_that()
    {
        var owner = await Person.SignInAsync(_application, "engineer@quillfeather.example", Password);
        var transfer = await TransferAsync("Quillfeather Hall recording room", "Orrery Suite");
        var survey = await owner.SurveyAsync(transfer);
        Assert.Equal(["Celesta", "Harp", "Bass drum", "horn", "bell"], survey.GetProperty("tracks").EnumerateArray().Select(t => t.GetProperty("name").GetString()));
        var media = survey.GetProperty("media").EnumerateArray().ToList();
        Assert.DoesNotContain(media, m => m.GetProperty("missing").GetBoolean());
        foreach (var sha256 in media.Select(m => m.GetProperty("sha").GetString()))
        {
            Assert.Equal(HttpStatusCode.OK, (await owner.Browser.GetAsync($"/transfers/{transfer}/peaks/{sha256}/0")).StatusCode);
            Assert.Equal(HttpStatusCode.OK, (await owner.Browser.GetAsync($"/transfers/{transfer}/samples/{sha256}?from=0&count=10")).StatusCode);
        }

        var old = await _application.AskAsync(d => d.Builds.AsNoTracking().SingleAsync(b => b.TransferId == transfer));
        Assert.Equal(old.Bytes, (await owner.Browser.GetByteArrayAsync($"/builds/{old.Id}/package")).LongLength);
        var again = await owner.BuildAsync(transfer);
        Assert.True(again.Passed, again.Error ?? again.Verdict);

        // Two in the zip, one alone, the notes, and the file that the pair became.
        Assert.Equal(5, await HeldAsync("Quillfeather Hall recording room"));
    }

    [Fact]
    public async Task A_package_of_then_is_proved_by_the_rules_of_its_version()
    {
        var transfer = await TransferAsync("Quillfeather Hall recording room", "Orrery Suite");
        var build = await _application.AskAsync(d => d.Builds.AsNoTracking().SingleAsync(b => b.TransferId == transfer));
        await using var scope = _application.Services.CreateAsyncScope();
        var (plan, room) = await scope.ServiceProvider.GetRequiredService<DeskLoader>().PlanAsync(build, CancellationToken.None);
        var package = _application.Services.GetRequiredService<PackageStore>().Package(build.Id)!;
        var report = PackageProof.Prove(package, "package.zip", plan, new StoredMedia(room), _ => { }, CancellationToken.None);
        Assert.True(report.Passed, string.Join('\n', report.Rows.Where(r => !r.Passed)));
        Assert.NotEmpty(report.Clips);
    }

    [Fact]
    public async Task A_database_that_a_newer_program_changed_is_refused_in_words()
    {
        await _application.AskAsync(async d => await d.Database.ExecuteSqlRawAsync("""INSERT INTO "__EFMigrationsHistory" VALUES ('99990101000000_Newer', '11.0.0')"""));
        var problem = await Assert.ThrowsAsync<InvalidOperationException>(async () =>
        {
            await using var scope = _application.Services.CreateAsyncScope();
            await OlderData.UpgradeAsync(scope.ServiceProvider, CancellationToken.None);
        });
        Assert.Contains("by a newer version of this program", problem.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("intake")]
    [InlineData("preparation")]
    [InlineData("session")]
    public void A_document_of_a_newer_version_is_refused_in_words(string what)
    {
        var session = new Session { Name = "s" };
        var bytes = what switch
        {
            "intake" => new IntakeState().ToJson(),
            "preparation" => PreparationDocument.Write(Preparation.Default(session, SessionFormats.Usual)),
            _ => SessionDocumentWriter.Write(session),
        };
        var text = Encoding.UTF8.GetString(bytes);
        var newer = Encoding.UTF8.GetBytes(Regex.Replace(text, "\"(version|Version|lyrotransSession)\": ?[0-9]+", "\"$1\": 99"));
        Assert.NotEqual(bytes, newer);
        var problem = Assert.Throws<BadInputException>(() =>
        {
            switch (what)
            {
                case "intake":
                    IntakeState.FromJson(newer);
                    break;
                case "preparation":
                    PreparationDocument.Read(newer, "p");
                    break;
                default:
                    SessionDocumentReader.Read(new MemoryStream(newer), "s");
                    break;
            }
        });
        Assert.Contains("has version 99, and this program knows versions up to", problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_a_document_named_is_still_nobody_else_s()
    {
        var other = await Person.SignInAsync(_application, "b@lantern.example", Password);
        var transfer = await TransferAsync("Lantern Street room", "Planetarium show");
        foreach (var sha256 in await _application.AskAsync(d => d.RoomMedia.Where(m => d.Rooms.Any(r => r.Id == m.RoomId && r.Name.StartsWith("Quill"))).Select(m => m.Sha256).ToListAsync()))
        {
            Assert.Equal(HttpStatusCode.NotFound, (await other.Browser.GetAsync($"/transfers/{transfer}/peaks/{sha256}/0")).StatusCode);
            Assert.Equal(HttpStatusCode.NotFound, (await other.Browser.GetAsync($"/transfers/{transfer}/samples/{sha256}?from=0&count=10")).StatusCode);
        }

        foreach (var track in new[] { "left", "right" })
        {
            var heard = await other.Browser.GetByteArrayAsync($"/transfers/{transfer}/listen?from=0&track={track}");
            Assert.All(MemoryMarshal.Cast<byte, short>(heard.AsSpan(44)).ToArray(), s => Assert.InRange(s, -1, 1));
        }

        // The document and its one file of its own.
        Assert.Equal(2, await HeldAsync("Lantern Street room"));
    }

    [Fact]
    public async Task The_steps_are_taken_once()
    {
        Assert.Equal(["media of rooms"], await _application.AskAsync(d => d.DataSteps.Select(s => s.Name).ToListAsync()));
        Assert.Equal(3, await _application.AskAsync(d => d.Memberships.CountAsync()));
    }

    private Task<Guid> TransferAsync(string room, string name) =>
        _application.AskAsync(d => d.Transfers.Where(t => t.Name == name && d.Rooms.Any(r => r.Id == t.RoomId && r.Name == room)).Select(t => t.Id).SingleAsync());

    private Task<int> HeldAsync(string room) => _application.AskAsync(d => d.RoomMedia.CountAsync(m => d.Rooms.Any(r => r.Id == m.RoomId && r.Name == room)));
}
