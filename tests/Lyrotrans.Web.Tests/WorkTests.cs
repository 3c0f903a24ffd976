using System.Net;
using Lyrotrans.Audio.Files;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Tests.Hosting;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;

namespace Lyrotrans.Web.Tests;

/// <summary>Long work on the real database: begun once, found again when its process is gone, stopped, and ended whatever happens.</summary>
public sealed class WorkTests(TestApplication application)
{
    private async Task<(Person Person, Guid Transfer)> BroughtInAsync(int seed)
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Planetarium show");
        await person.BringInAsync(transfer, ("bell.wav", Sounds.Noise(seed)));
        return (person, transfer);
    }

    private WorkRow<PackageBuild> Row(Guid id) => new(application.Services.GetRequiredService<IDbContextFactory<LyroContext>>(), id, "stopped", NullLogger.Instance);

    private async Task<PackageBuild> RowAsync(Guid transfer, WorkState state, DateTimeOffset? seen, int attempts = 0, bool stopAsked = false, string? session = null)
    {
        var build = new PackageBuild
        {
            Id = Guid.NewGuid(),
            TransferId = transfer,
            Revision = 1,
            By = "nobody",
            At = DateTimeOffset.UtcNow,
            State = state,
            SeenAt = seen,
            Attempts = attempts,
            StopAsked = stopAsked,
        };
        await application.AskAsync(async d =>
        {
            d.Add(build);
            if (session is not null)
            {
                await d.Revisions.Where(r => r.TransferId == transfer).ExecuteUpdateAsync(r => r.SetProperty(x => x.SessionSha, session));
            }

            return await d.SaveChangesAsync();
        });
        return build;
    }

    private Task<PackageBuild> EndedAsync(Guid id) => application.EndedAsync(d => d.Builds.AsNoTracking().SingleAsync(b => b.Id == id));

    [Fact]
    public async Task A_button_that_is_pressed_six_times_makes_one_build()
    {
        var (person, transfer) = await BroughtInAsync(41);
        var answers = await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => person.PostAsync(transfer, "build", "Build", ("after", $"{Guid.Empty}"))));
        Assert.All(answers, a => Assert.Equal(HttpStatusCode.OK, a.StatusCode));
        var built = await application.AskAsync(d => d.Builds.AsNoTracking().Where(b => b.TransferId == transfer).SingleAsync());
        Assert.True((await EndedAsync(built.Id)).Passed);

        // A press that was long on its way is one of the six still.
        Assert.Equal(HttpStatusCode.OK, (await person.PostAsync(transfer, "build", "Build", ("after", $"{Guid.Empty}"))).StatusCode);
        Assert.Equal(built.Id, await application.AskAsync(d => d.Builds.Where(b => b.TransferId == transfer).Select(b => b.Id).SingleAsync()));

        // And the next one can begin.
        Assert.True((await person.BuildAsync(transfer)).Passed);
        Assert.Equal(2, await application.AskAsync(d => d.Builds.CountAsync(b => b.TransferId == transfer)));
    }

    [Fact]
    public async Task Work_whose_process_is_gone_is_found_and_done()
    {
        var (_, transfer) = await BroughtInAsync(42);
        var dead = await RowAsync(transfer, WorkState.Working, DateTimeOffset.UtcNow - WorkLife.Dead - TimeSpan.FromSeconds(1), attempts: 1);
        var ended = await EndedAsync(dead.Id);
        Assert.Equal((WorkState.Done, true, 2), (ended.State, ended.Passed, ended.Attempts));
    }

    [Fact]
    public async Task Work_that_lost_its_place_in_the_queue_is_found_and_done()
    {
        var (_, transfer) = await BroughtInAsync(43);
        var lost = await RowAsync(transfer, WorkState.Waiting, DateTimeOffset.UtcNow - WorkLife.Forgotten - TimeSpan.FromSeconds(1));
        Assert.True((await EndedAsync(lost.Id)).Passed);
    }

    [Fact]
    public async Task Work_that_died_too_often_is_given_up_and_says_so()
    {
        var (_, transfer) = await BroughtInAsync(44);
        var dead = await RowAsync(transfer, WorkState.Working, DateTimeOffset.UtcNow - WorkLife.Dead - TimeSpan.FromSeconds(1), attempts: WorkLife.MostAttempts);
        var ended = await EndedAsync(dead.Id);
        Assert.Equal((WorkState.Failed, "work.died"), (ended.State, ended.ErrorCode));
    }

    [Fact]
    public async Task Work_that_lost_the_database_is_begun_anew_by_itself_and_after_three_times_says_so()
    {
        var (_, transfer) = await BroughtInAsync(49);
        var away = new WorkEnd(WorkOutcome.Failed, Failure: Failure.Of(new InvalidOperationException("likely transient", new Npgsql.NpgsqlException("57P01"))));
        var build = await RowAsync(transfer, WorkState.Waiting, DateTimeOffset.UtcNow.AddHours(1));
        var first = Row(build.Id);
        Assert.True(await first.BeginAsync());
        await first.EndAsync(away);
        var ended = await EndedAsync(build.Id);
        Assert.Equal((WorkState.Done, true, 2), (ended.State, ended.Passed, ended.Attempts));

        var last = await RowAsync(transfer, WorkState.Waiting, DateTimeOffset.UtcNow.AddHours(1), attempts: WorkLife.MostAttempts - 1);
        var third = Row(last.Id);
        Assert.True(await third.BeginAsync());
        await third.EndAsync(away);
        ended = await EndedAsync(last.Id);
        Assert.Equal((WorkState.Failed, "work.database"), (ended.State, ended.ErrorCode));
    }

    [Fact]
    public async Task Work_that_fails_in_a_way_that_nobody_thought_of_ends_as_failed_with_a_number()
    {
        // One more in the room, whatever other tests ran.
        await BroughtInAsync(51);
        var (person, transfer) = await BroughtInAsync(45);
        var before = await application.AskAsync(d => d.Revisions.AsNoTracking().Where(r => r.TransferId == transfer).Select(r => r.SessionSha).SingleAsync());
        var broken = await RowAsync(transfer, WorkState.Waiting, DateTimeOffset.UtcNow - WorkLife.Forgotten - TimeSpan.FromSeconds(1), session: new string('e', 64));
        var ended = await EndedAsync(broken.Id);
        Assert.Equal((WorkState.Failed, "work.fault"), (ended.State, ended.ErrorCode));
        Assert.Matches("report the number [0-9a-f]{8}", ended.Error!);

        // One that cannot be opened takes none of the others away.
        var list = await person.Browser.GetStringAsync("/");
        Assert.Contains("cannot be opened", list, StringComparison.Ordinal);
        Assert.Contains("/survey", list, StringComparison.Ordinal);
        await application.AskAsync(d => d.Revisions.Where(r => r.TransferId == transfer).ExecuteUpdateAsync(r => r.SetProperty(x => x.SessionSha, before)));
        Assert.DoesNotContain("cannot be opened", await person.Browser.GetStringAsync("/"), StringComparison.Ordinal);
        Assert.True((await person.BuildAsync(transfer)).Passed);
    }

    [Fact]
    public async Task What_waits_is_stopped_at_once_and_never_begun()
    {
        var (_, transfer) = await BroughtInAsync(46);
        var waiting = await RowAsync(transfer, WorkState.Waiting, DateTimeOffset.UtcNow.AddHours(1));
        await application.AskAsync(async d =>
        {
            await WorkBook.StopAsync(d.Builds.Where(b => b.Id == waiting.Id), CancellationToken.None);
            return 0;
        });
        Assert.Equal(WorkState.Stopped, (await EndedAsync(waiting.Id)).State);
        Assert.False(await Row(waiting.Id).BeginAsync());
    }

    [Fact]
    public async Task A_stop_that_was_asked_for_before_the_process_went_is_heeded_by_the_next()
    {
        var (_, transfer) = await BroughtInAsync(47);
        var dead = await RowAsync(transfer, WorkState.Working, DateTimeOffset.UtcNow - WorkLife.Dead - TimeSpan.FromSeconds(1), stopAsked: true);
        var ended = await EndedAsync(dead.Id);
        Assert.Equal((WorkState.Stopped, null), (ended.State, ended.FileName));
    }

    [Fact]
    public async Task Of_two_that_take_the_same_work_on_one_gets_it_and_the_one_that_was_believed_dead_stops()
    {
        var (_, transfer) = await BroughtInAsync(48);
        var build = await RowAsync(transfer, WorkState.Waiting, DateTimeOffset.UtcNow.AddHours(1));
        WorkRow<PackageBuild>[] rows = [Row(build.Id), Row(build.Id)];
        var begun = await Task.WhenAll(rows.Select(r => r.BeginAsync()));
        Assert.Single(begun, b => b);
        var (first, second) = begun[0] ? (rows[0], rows[1]) : (rows[1], rows[0]);
        Assert.False(first.Beat(new(0.2, "at it")));
        await application.AskAsync(d => d.Builds.Where(b => b.Id == build.Id).ExecuteUpdateAsync(b => b.SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow - WorkLife.Dead - TimeSpan.FromSeconds(1))));
        Assert.True(await second.BeginAsync());
        Assert.True(first.Beat(new(0.3, "at it still")));
        Assert.False(second.Beat(new(0.1, "from the beginning")));
        await first.EndAsync(new(WorkOutcome.Done, "too late"));
        var row = await application.AskAsync(d => d.Builds.AsNoTracking().SingleAsync(b => b.Id == build.Id));
        Assert.Equal((WorkState.Working, "from the beginning", 2), (row.State, row.Doing, row.Attempts));
        await second.EndAsync(new(WorkOutcome.Stopped));
        Assert.Equal(WorkState.Stopped, (await EndedAsync(build.Id)).State);
    }

    [Fact]
    public async Task What_cannot_be_made_is_said_before_it_is_begun()
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Planetarium show");
        var keys = new Track { Id = "keys", Name = "Keys", Kind = TrackKind.Notes, Parts = [new NotePart { Id = "p", Name = "Keys", LengthQuarters = 4, Notes = [new Note(0, 960, 1, 60, 90)] }] };
        var fast = SessionDocumentWriter.Write(new Session { Name = "Fast", Rate = SampleRate.FromHz(192_000), Tracks = [keys] });
        await person.BringInAsync(transfer, ("fast.session.json", fast));
        Assert.DoesNotContain("data-code", await person.Browser.GetStringAsync($"/transfers/{transfer}/intake"), StringComparison.Ordinal);
        var track = (await person.SurveyAsync(transfer)).GetProperty("tracks")[0].GetProperty("id").GetString()!;
        var printed = await person.PostAsync(transfer, "prepare", "Set", ("track", track), ("field", "treatment"), ("value", "notes and print"));
        Assert.True(printed.IsSuccessStatusCode, await printed.Content.ReadAsStringAsync());
        Assert.Contains("made up to 96000 Hz", await person.Browser.GetStringAsync($"/transfers/{transfer}/build"), StringComparison.Ordinal);
        var answer = await person.PostAsync(transfer, "build", "Build");
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("hold them back", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(0, await application.AskAsync(d => d.Builds.CountAsync(b => b.TransferId == transfer)));
    }

    private Task<List<string>> WordsAsync(Guid transfer) => application.AskAsync(d => d.Revisions.AsNoTracking().Where(r => r.TransferId == transfer).OrderBy(r => r.Number).Select(r => r.Words).ToListAsync());

    [Fact]
    public async Task Damage_that_measuring_finds_is_a_revision_of_its_own_after_that_of_the_files()
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Planetarium show");
        var path = Path.GetTempFileName();
        using (var writer = new CodedWriter(path, CodedForm.Flac, SampleRate.Hz48000, 1, SampleEncoding.Integer16, Dither.None, "a tone"))
        {
            writer.Write([[.. Enumerable.Range(0, 4800).Select(i => Math.Sin(i / 20.0) / 2)]], 4800);
            writer.Finish();
        }

        // The sum of its samples, which lies 26 bytes in, says another sound.
        var flac = await File.ReadAllBytesAsync(path);
        File.Delete(path);
        flac[30] ^= 0xFF;
        await person.BringInAsync(transfer, ("tone.flac", flac), ("bell.wav", Sounds.Noise(71)));
        Assert.Equal(["brought in 2 files", "measured: 1 file is damaged"], await WordsAsync(transfer));
        Assert.Contains("not what its own checksum says", await person.Browser.GetStringAsync($"/transfers/{transfer}/intake"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_turns_out_to_be_a_medium_s_sound_is_no_track_any_more()
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Planetarium show");
        var bell = Sounds.Noise(72);
        await person.BringInAsync(transfer, ("bells.session.json", Sounds.Naming(("bell.wav", Sounds.Hash(bell)))), ("bell.wav", bell), ("take 2.wav", [.. bell, .. "LIST"u8, 4, 0, 0, 0, .. "INFO"u8]));
        Assert.Equal(["brought in 3 files", "measured: some sound is a medium's, and no track of its own"], await WordsAsync(transfer));
        Assert.Contains("the same sound as bell.wav", await person.Browser.GetStringAsync($"/transfers/{transfer}/intake"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_intake_that_died_after_its_revision_does_not_make_it_again()
    {
        var (_, transfer) = await BroughtInAsync(44);
        var batch = await application.AskAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.TransferId == transfer));
        Assert.Equal((1, WorkState.Done), (batch.Attempts, batch.State));
        await application.AskAsync(d => d.Batches.Where(b => b.Id == batch.Id).ExecuteUpdateAsync(b => b.SetProperty(x => x.State, WorkState.Waiting).SetProperty(x => x.SeenAt, DateTimeOffset.UtcNow)));
        await application.RunAsync<IntakeJob>(job => job.RunAsync(batch.Id));
        batch = await application.AskAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.Id == batch.Id));
        Assert.Equal((2, WorkState.Done), (batch.Attempts, batch.State));
        Assert.Equal(1, await application.AskAsync(d => d.Revisions.CountAsync(r => r.TransferId == transfer)));
    }
}
