using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;

namespace Lyrotrans.Web.Tests;

/// <summary>What is done after an answer shows in no answer's time, and is done.</summary>
public sealed class LaterTests(TestApplication main)
{
    private static Later New() => new(new ServiceCollection().BuildServiceProvider().GetRequiredService<IServiceScopeFactory>(), NullLogger<Later>.Instance);

    [Fact]
    public async Task The_next_answer_on_a_connection_does_not_wait_for_the_letter_of_the_one_before()
    {
        // A mail server that takes connections and says nothing.
        using var server = new TcpListener(IPAddress.Loopback, 0);
        server.Start();
        using var application = main.With(new Dictionary<string, string> { ["LYRO_MAIL"] = $"smtp://127.0.0.1:{((IPEndPoint)server.LocalEndpoint).Port}" }, onALine: true);
        var person = Person.Stranger(application, "engineer@quillfeather.example");
        var asked = await person.PostPlainAsync("/open-a-room", new() { ["Room"] = "Hall", ["EngineerName"] = "Engineer", ["Email"] = person.Email, ["Password"] = Person.Password });
        Assert.Contains("A letter is on its way", await asked.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        using var line = await server.AcceptTcpClientAsync();
        Assert.Equal(HttpStatusCode.OK, (await person.Browser.GetAsync("/sign-in")).StatusCode);

        // The letter was still waiting for the server's first word when that answer was here.
        Assert.Empty(Directory.GetFiles(Path.Combine(application.Folder, "outbox")));
        line.Close();
        for (var tries = 0; Directory.GetFiles(Path.Combine(application.Folder, "outbox"), "*.eml").Length == 0; tries++)
        {
            Assert.True(tries < 200);
            await Task.Delay(50);
        }
    }

    [Fact]
    public async Task One_that_fails_is_not_the_last_and_what_waits_at_the_end_is_done()
    {
        var later = New();
        var (done, gate) = (0, new TaskCompletionSource());
        await later.StartAsync(TestContext.Current.CancellationToken);
        for (var i = 0; i < 100; i++)
        {
            var fails = i % 3 == 0;
            later.Do(async _ =>
            {
                await gate.Task;
                Interlocked.Increment(ref done);
                if (fails)
                {
                    throw new InvalidOperationException("It failed.");
                }
            });
        }

        var ended = later.StopAsync(TestContext.Current.CancellationToken);
        Assert.False(ended.IsCompleted);
        gate.SetResult();
        await ended;

        // A host asks once more when it is thrown away.
        await later.StopAsync(TestContext.Current.CancellationToken);
        Assert.Equal(100, done);
    }

    [Fact]
    public async Task Each_begins_at_a_time_of_its_own()
    {
        var later = New();
        await later.StartAsync(TestContext.Current.CancellationToken);
        var waited = new List<TimeSpan>();
        for (var i = 0; i < 20; i++)
        {
            var begun = new TaskCompletionSource();
            var since = Stopwatch.GetTimestamp();
            later.Do(_ =>
            {
                begun.SetResult();
                return Task.CompletedTask;
            });
            await begun.Task.WaitAsync(TimeSpan.FromSeconds(30), TestContext.Current.CancellationToken);
            waited.Add(Stopwatch.GetElapsedTime(since));
        }

        // Of 20 that were asked one after the other, one begins beside its asker by chance, not ten; and they are not all put off by the same.
        Assert.InRange(waited.Count(w => w < TimeSpan.FromMilliseconds(100)), 0, 9);
        Assert.True(waited.Max() - waited.Min() > TimeSpan.FromMilliseconds(300));
        await later.StopAsync(TestContext.Current.CancellationToken);
    }

    [Fact]
    public async Task One_that_hangs_does_not_hold_up_the_others()
    {
        var later = New();
        var (hangs, other) = (new TaskCompletionSource(), new TaskCompletionSource());
        await later.StartAsync(TestContext.Current.CancellationToken);
        later.Do(_ => hangs.Task);
        later.Do(_ =>
        {
            other.SetResult();
            return Task.CompletedTask;
        });
        await other.Task.WaitAsync(TimeSpan.FromSeconds(30), TestContext.Current.CancellationToken);
        hangs.SetResult();
        await later.StopAsync(TestContext.Current.CancellationToken);
    }
}
