using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Relinking;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A media file that the session refers to and that was not found beyond doubt.</summary>
/// <param name="Media">Its identifier in the session.</param>
/// <param name="Doubtful">Items that may be it, best first.</param>
public sealed record MissingMedia(string Media, string FileName, string Facts, int Clips, string Tracks, string Reason, ValueArray<Evidence> Doubtful);
