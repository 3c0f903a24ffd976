using Lyrotrans.Audio.Placing;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Placing;

/// <summary>Where a sound file lies in another.</summary>
/// <param name="Name">Of the file.</param>
/// <param name="Place">In samples of the reference; null where it was not found or could not be read.</param>
/// <param name="Problem">Why it could not be read; null where it could.</param>
public sealed record FoundPlace(string Name, SignalPlace? Place, Finding? Problem);
