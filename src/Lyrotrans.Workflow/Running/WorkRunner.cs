namespace Lyrotrans.Workflow.Running;

/// <summary>Runs long work, behind a page or on the command line: it begins once, says how far it is, heeds a stop, and ends in one of three ways whatever happens.</summary>
public static class WorkRunner
{
    /// <param name="record">Where it is kept.</param>
    /// <param name="run">The work; says at its end what was done.</param>
    /// <param name="stop">Stops it, as its record can.</param>
    /// <returns>How it ended; null where it was not to be begun.</returns>
    public static async Task<WorkEnd?> RunAsync(IWorkRecord record, Func<WorkPulse, Task<string>> run, CancellationToken stop = default)
    {
        if (!await record.BeginAsync())
        {
            return null;
        }

        var end = await EndOfAsync(record, run, stop);
        await record.EndAsync(end);
        return end;
    }

    private static async Task<WorkEnd> EndOfAsync(IWorkRecord record, Func<WorkPulse, Task<string>> run, CancellationToken stop)
    {
        using var pulse = new WorkPulse(record.Beat, stop);
        try
        {
            return new WorkEnd(WorkOutcome.Done, await run(pulse));
        }
        catch (OperationCanceledException) when (pulse.Stop.IsCancellationRequested)
        {
            return new WorkEnd(WorkOutcome.Stopped);
        }
        catch (Exception problem)
        {
            // Whatever it is: work that nobody ends would stand in the way of the next.
            return new WorkEnd(WorkOutcome.Failed, Failure: Failure.Of(problem), Problem: problem);
        }
    }
}
