using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Workflow.Tests;

public class WorkRunnerTests
{
    private sealed class Record(bool begins = true) : IWorkRecord
    {
        public List<WorkProgress> Beats { get; } = [];

        public WorkEnd? End { get; private set; }

        public bool StopAsked { get; set; }

        public Task<bool> BeginAsync() => Task.FromResult(begins);

        public bool Beat(WorkProgress progress)
        {
            Assert.Null(End);
            Beats.Add(progress);
            return StopAsked;
        }

        public Task EndAsync(WorkEnd end)
        {
            Assert.Null(End);
            End = end;
            return Task.CompletedTask;
        }
    }

    public static TheoryData<Exception, string> Failures => new()
    {
        { new BadInputException(FileCodes.CutShort, "a.wav", 12, "It ends.", "Ask again."), "file.cut-short" },
        { new AggregateException(new BadInputException(FileCodes.Empty, "a.wav", string.Empty, "It is empty.", "Ask again.")), "file.empty" },
        { new IOException("No space left on device."), "work.files" },
        { new UnauthorizedAccessException("No."), "work.files" },
        { new TimeoutException("The database did not answer."), "work.database" },
        { new InvalidOperationException("An exception has been raised that is likely due to a transient failure.", new TimeoutException()), "work.database" },
        { new InvalidOperationException("A mistake of ours."), "work.fault" },
        { new KeyNotFoundException("No such row."), "work.fault" },
        { new OverflowException(), "work.fault" },
        { new ArithmeticException(), "work.fault" },
        { new OperationCanceledException(), "work.fault" },
    };

    [Fact]
    public void No_words_say_where_a_server_keeps_its_files()
    {
        var folder = Directory.CreateTempSubdirectory().FullName;
        foreach (var act in new Action[]
        {
            () => File.OpenRead(Path.Combine(folder, "horn.wav")),
            () => File.WriteAllText(folder, "a folder is no file"),
            () => Directory.GetFiles(Path.Combine(folder, "none")),
            () => File.WriteAllText("/proc/self/horn.wav", "nobody writes here"),
        })
        {
            var words = Failure.Of(Xunit.Record.Exception(act)!).Text;
            Assert.DoesNotContain('/', words);
            Assert.True(words.Length > 10, words);
        }
    }

    [Theory]
    [MemberData(nameof(Failures))]
    public async Task Whatever_goes_wrong_ends_the_work_as_failed_with_a_code_and_words(Exception problem, string code)
    {
        var record = new Record();
        var end = await WorkRunner.RunAsync(record, _ => throw problem);
        Assert.Same(end, record.End);
        Assert.Equal((WorkOutcome.Failed, code), (end!.Outcome, end.Failure!.Code.Id));
        Assert.Same(problem, end.Problem);
        Assert.NotEqual(string.Empty, end.Failure.Text);
        if (code == "work.fault")
        {
            Assert.Matches("^[0-9a-f]{8}$", end.Failure.Place);
            Assert.Contains(end.Failure.Place, end.Failure.Text, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task What_was_done_is_kept_in_words()
    {
        var record = new Record();
        Assert.Equal(new WorkEnd(WorkOutcome.Done, "12 files"), await WorkRunner.RunAsync(record, _ => Task.FromResult("12 files")));
        Assert.Equal(WorkOutcome.Done, record.End!.Outcome);
    }

    [Fact]
    public async Task What_is_not_to_be_begun_is_not_run()
    {
        var record = new Record(begins: false);
        Assert.Null(await WorkRunner.RunAsync(record, _ => throw new InvalidOperationException("It was run.")));
        Assert.Null(record.End);
    }

    [Fact]
    public async Task A_stop_is_heard_in_the_middle_of_a_step_that_reports_nothing()
    {
        var record = new Record { StopAsked = true };
        var end = await WorkRunner.RunAsync(record, async pulse =>
        {
            pulse.Report(new WorkProgress(0.5, "reading"));
            await Task.Delay(WorkPulse.Slowest * 10, pulse.Stop);
            return string.Empty;
        });
        Assert.Equal(WorkOutcome.Stopped, end!.Outcome);
        Assert.Equal(new WorkProgress(0.5, "reading"), Assert.Single(record.Beats));
    }

    [Fact]
    public async Task Whoever_began_it_can_stop_it_too()
    {
        using var stop = new CancellationTokenSource();
        var end = await WorkRunner.RunAsync(
            new Record(),
            pulse =>
            {
                stop.Cancel();
                pulse.Stop.ThrowIfCancellationRequested();
                return Task.FromResult(string.Empty);
            },
            stop.Token);
        Assert.Equal(WorkOutcome.Stopped, end!.Outcome);
    }

    [Fact]
    public async Task Progress_is_passed_on_a_few_times_a_second_however_often_it_is_reported()
    {
        var record = new Record();
        var since = Environment.TickCount64;
        await WorkRunner.RunAsync(record, pulse =>
        {
            Parallel.For(0, 8, _ =>
            {
                while (Environment.TickCount64 - since < 1000)
                {
                    pulse.Report(new WorkProgress(0.1, "at it"));
                }
            });
            return Task.FromResult(string.Empty);
        });
        Assert.InRange(record.Beats.Count, 1, 4);
    }
}
