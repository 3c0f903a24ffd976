using System.Buffers.Binary;
using System.Net;
using Lyrotrans.Core.Rehearsing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Rehearsing;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests;

/// <summary>A package read back before it goes, by the room that built it.</summary>
public sealed class RehearseTests(TestApplication application) : IAsyncLifetime
{
    private const int Head = 44;
    private static Task<(Person Person, Guid Transfer, PackageBuild Build)>? s_built;
    private Person _sender = null!;
    private Guid _transfer;
    private PackageBuild _build = null!;

    public async ValueTask InitializeAsync() => (_sender, _transfer, _build) = await (s_built ??= BuiltAsync());

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task<(Person Person, Guid Transfer, PackageBuild Build)> BuiltAsync()
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Orrery Suite");
        var (left, right) = (Sounds.Noise(91), Sounds.Noise(92));
        var at = left.Length - (2 * Sounds.Frames);
        var both = Enumerable.Range(0, Sounds.Frames).SelectMany(i => left[(at + (2 * i))..(at + (2 * i) + 2)].Concat(right[(at + (2 * i))..(at + (2 * i) + 2)])).ToArray();
        await person.BringInAsync(transfer, ("pair.wav", [.. WaveWriter.Head(new PcmLayout(SampleEncoding.Integer16, false, 2, SampleRate.Hz48000, 0, Sounds.Frames)), .. both]), ("bell.wav", left));
        return (person, transfer, await person.BuildAsync(transfer));
    }

    private async Task<RehearsalRun> ReadAsync(params (string Name, string Value)[] limits)
    {
        var answer = await _sender.PostAsync(_transfer, $"rehearse/{_build.Id}", "Read", [("build", _build.Id.ToString()), ("letters", "any"), .. limits]);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return await application.EndedAsync(d => d.RehearsalRuns.AsNoTracking().Where(r => r.BuildId == _build.Id).OrderByDescending(r => r.At).FirstAsync());
    }

    private async Task<short[]> HeardAsync(string track, string what, long from)
    {
        var answer = await _sender.Browser.GetAsync($"/builds/{_build.Id}/rehearsal/listen?track={Uri.EscapeDataString(track)}&what={what}&from={from}");
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        var bytes = (await answer.Content.ReadAsByteArrayAsync())[Head..];
        return [.. Enumerable.Range(0, bytes.Length / 2).Select(i => BinaryPrimitives.ReadInt16LittleEndian(bytes.AsSpan(2 * i)))];
    }

    [Fact]
    public async Task Read_with_everything_it_is_the_same_and_the_page_says_so()
    {
        var run = await ReadAsync();
        Assert.Equal((WorkState.Done, true), (run.State, run.IsSame));
        Assert.Contains("sounds as it was sent", await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/rehearse/{_build.Id}"), StringComparison.Ordinal);
        Assert.Contains("reads as sent", await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/handover"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_channel_that_is_not_read_is_named_and_what_it_leaves_is_heard()
    {
        var run = await ReadAsync(("limits", "channels"), ("longest", "4"));
        Assert.Equal([ReadingLimit.Channels], RehearsalDesk.LimitsOf(run).Unread);
        var report = RehearsalDesk.ReportOf(run)!;
        var other = Assert.Single(report.Sounds, s => !s.IsSame);
        Assert.Contains("pair", other.Name, StringComparison.Ordinal);
        Assert.False(run.IsSame);
        Assert.Contains(report.Moves.Causes, c => c.Contains("2 tracks have other names", StringComparison.Ordinal));

        // The bell is stamped one second later than the start, and all files are as long.
        const long From = 12_345, Stamp = 48_000;
        var (sent, read, left) = (await HeardAsync(other.Track, "sent", From), await HeardAsync(other.Track, "read", From), await HeardAsync(other.Track, "difference", From));
        Assert.Equal((2 * (Stamp + Sounds.Frames - From), sent.Length, sent.Length), (sent.Length, read.Length, left.Length));

        // Each was rounded to 16 bits with its own dither.
        Assert.All(Enumerable.Range(0, sent.Length), i => Assert.InRange(read[i] - sent[i] - left[i], -6, 6));
        Assert.Contains(left, s => Math.Abs((int)s) > 1000);
        Assert.Contains("pair", await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/rehearse/{_build.Id}"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await _sender.Browser.GetAsync($"/builds/{_build.Id}/rehearsal/listen?track=none")).StatusCode);
    }

    [Theory]
    [InlineData("limits", "colour")]
    [InlineData("longest", "3")]
    [InlineData("longest", "many")]
    [InlineData("letters", "runes")]
    [InlineData("rate", "12345")]
    public async Task What_no_limit_can_be_is_refused_and_nothing_is_read(string field, string value)
    {
        var before = await application.AskAsync(d => d.RehearsalRuns.CountAsync());
        var answer = await _sender.PostAsync(_transfer, $"rehearse/{_build.Id}", "Read", ("build", _build.Id.ToString()), (field, value), (field == "letters" ? "rate" : "letters", field == "letters" ? string.Empty : "any"));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Equal(before, await application.AskAsync(d => d.RehearsalRuns.CountAsync()));
    }

    [Fact]
    public async Task A_package_that_is_none_of_the_transfer_s_is_not_there()
    {
        var other = Guid.NewGuid();
        Assert.Equal(HttpStatusCode.NotFound, (await _sender.Browser.GetAsync($"/transfers/{_transfer}/rehearse/{other}?handler=State&build={other}")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await _sender.PostAsync(_transfer, $"rehearse/{other}", "Stop", ("build", other.ToString()))).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await _sender.PostAsync(_transfer, $"rehearse/{other}", "Read", ("build", other.ToString()), ("letters", "any"))).StatusCode);
        Assert.Contains("no package to read back yet", await _sender.Browser.GetStringAsync($"/transfers/{_transfer}/rehearse/{other}"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_the_process_left_that_was_killed_is_read_again()
    {
        var id = Guid.NewGuid();
        await application.AskAsync(async d =>
        {
            d.RehearsalRuns.Add(new RehearsalRun { Id = id, BuildId = _build.Id, At = DateTimeOffset.UtcNow.AddDays(-1), State = WorkState.Working, Attempts = 1, SeenAt = DateTimeOffset.UtcNow.AddHours(-1), Limits = """{"Unread":["Pan"]}""" });
            return await d.SaveChangesAsync();
        });
        await application.RunAsync<Jobs.WorkBook>(b => b.FindAsync(CancellationToken.None));
        var run = await application.EndedAsync(d => d.RehearsalRuns.AsNoTracking().SingleAsync(r => r.Id == id));
        Assert.Equal((WorkState.Done, true), (run.State, run.IsSame));
    }
}
