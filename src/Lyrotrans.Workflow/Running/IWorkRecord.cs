namespace Lyrotrans.Workflow.Running;

/// <summary>Where it is kept how far work is: a row of a database, a terminal. Whoever begins work or looks for it does so by its record.</summary>
public interface IWorkRecord
{
    /// <summary>Takes the work on; false where somebody else is at it, it has ended, or it was stopped before it began.</summary>
    Task<bool> BeginAsync();

    /// <summary>Keeps that the work lives and how far it is; from any thread, one call at a time.</summary>
    /// <returns>Whether it should stop.</returns>
    bool Beat(WorkProgress progress);

    /// <summary>Keeps how it ended. Called once, after the last beat.</summary>
    Task EndAsync(WorkEnd end);
}
