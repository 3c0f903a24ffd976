namespace Lyrotrans.Workflow.Intake;

/// <summary>A media file that the session refers to and that was not brought in.</summary>
public sealed record MissingMedia(string FileName, string Facts, int Clips, string Tracks);
