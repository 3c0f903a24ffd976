namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>The sound of one from-zero file, block by block.</summary>
public interface IPrint : IDisposable
{
    /// <summary>One or more.</summary>
    int Channels { get; }

    /// <summary>Fills <c>into[channel][0 … count)</c> from frame <paramref name="at"/> of the file on; a mix is read forwards only.</summary>
    void Read(long at, int count, double[][] into);
}
