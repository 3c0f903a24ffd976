namespace Lyrotrans.Workflow.Build;

/// <summary>Another file that a sound goes into while it is made.</summary>
internal interface ISoundOutput : IDisposable
{
    /// <summary>The next samples; they are not changed.</summary>
    void Write(double[][] samples, int count);

    /// <summary>All was written.</summary>
    void Finish();
}
