namespace Lyrotrans.Workflow.Build;

/// <summary>Sees the samples of one print on their way, before they are rounded.</summary>
internal interface IPrintWatch : IDisposable
{
    /// <summary>The next samples, or null where they are silence and bytes of media only. They are only lent.</summary>
    void Take(long at, int count, double[][]? samples);

    /// <summary>All were taken, and the file is written.</summary>
    void Finish();
}
