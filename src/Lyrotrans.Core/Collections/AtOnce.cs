using System.Runtime.ExceptionServices;

namespace Lyrotrans.Core.Collections;

/// <summary>The same work on many things, as many at once as there are processors.</summary>
public static class AtOnce
{
    /// <param name="count">Of things.</param>
    /// <param name="work">Is given each thing's number, from 0.</param>
    /// <param name="stop">No further thing is begun after it.</param>
    /// <param name="threads">At most so many at once; none for as many as there are processors.</param>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    /// <remarks>Where work fails, what was begun is ended and the first failure is thrown as it was: one cause is enough, and people know what it is.</remarks>
    public static void Each(int count, Action<int> work, CancellationToken stop, int? threads = null)
    {
        stop.ThrowIfCancellationRequested();
        var workers = Math.Min(count, threads ?? Environment.ProcessorCount);
        var next = -1;

        // Whoever is free takes the next one: halves that are given out before would leave one processor with all long ones.
        void Work(int worker, ParallelLoopState state)
        {
            for (int i; !state.ShouldExitCurrentIteration && (i = Interlocked.Increment(ref next)) < count;)
            {
                stop.ThrowIfCancellationRequested();
                work(i);
            }
        }

        try
        {
            Parallel.For(0, workers, new ParallelOptions { MaxDegreeOfParallelism = Math.Max(1, workers), CancellationToken = stop }, Work);
        }
        catch (AggregateException problems)
        {
            ExceptionDispatchInfo.Throw(problems.InnerExceptions[0]);
        }
    }

    /// <summary>What the work makes of each thing, in their order.</summary>
    public static IReadOnlyList<TResult> Select<T, TResult>(IReadOnlyList<T> things, Func<T, TResult> work, CancellationToken stop)
    {
        var results = new TResult[things.Count];
        Each(things.Count, i => results[i] = work(things[i]), stop);
        return results;
    }
}
