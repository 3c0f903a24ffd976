using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Web.Jobs;

/// <summary>What reading a package back does.</summary>
public interface IRehearsals
{
    /// <summary>Reads the package back, and keeps the report.</summary>
    /// <returns>What came of it, in words.</returns>
    Task<string> ReadAsync(Guid run, WorkPulse pulse);
}
