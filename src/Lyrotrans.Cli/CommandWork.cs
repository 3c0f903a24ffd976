using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Cli;

/// <summary>The work of a command, run as all long work is: progress on a terminal, Ctrl-C as its stop, and an exit code for each way in which it ends.</summary>
internal sealed class CommandWork : IWorkRecord
{
    private readonly bool _showsProgress = !Console.IsErrorRedirected;

    // Steers the terminal itself, which what is printed as text cannot.
    private static readonly StreamWriter s_terminal = new(Console.OpenStandardError()) { AutoFlush = true };
    private bool _shown;

    /// <param name="run">The command; what it made then prints its results, where no progress is in the way any more, and says the exit code.</param>
    /// <param name="stop">Cancelled by Ctrl-C.</param>
    public static async Task<int> RunAsync(Func<WorkPulse, Func<int>> run, CancellationToken stop)
    {
        Func<int> print = () => ExitCode.Good;
        var end = await WorkRunner.RunAsync(
            new CommandWork(),
            pulse => Task.Run(
                () =>
                {
                    print = run(pulse);
                    return string.Empty;
                },
                CancellationToken.None),
            stop);
        return end!.Outcome switch { WorkOutcome.Done => print(), WorkOutcome.Stopped => ExitCode.Stopped, _ => CodeOf(end.Failure!) };
    }

    public Task<bool> BeginAsync() => Task.FromResult(true);

    public bool Beat(WorkProgress progress)
    {
        if (_showsProgress && progress.Doing.Length > 0)
        {
            // One line, written over: the end of it is cleared.
            s_terminal.Write($"\r{progress.Fraction * 100:0} % {HiddenMarks.Shown(progress.Doing)}\u001b[K");
            _shown = true;
        }

        return false;
    }

    public Task EndAsync(WorkEnd end)
    {
        if (_shown)
        {
            s_terminal.Write("\r\u001b[K");
        }

        Said.Print(end.Failure is { } failure ? [failure] : []);
        if (end.Outcome == WorkOutcome.Stopped)
        {
            Console.Error.WriteLine("Stopped.");
        }

        return Task.CompletedTask;
    }

    private static int CodeOf(Finding failure) => failure.Code == WorkCodes.Files ? ExitCode.CannotWrite : failure.Code == WorkCodes.Fault ? ExitCode.Fault : ExitCode.BadInput;
}
