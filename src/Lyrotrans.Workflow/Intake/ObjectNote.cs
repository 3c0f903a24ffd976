namespace Lyrotrans.Workflow.Intake;

/// <summary>What the engineer says of a track or of one of its clips.</summary>
/// <param name="Track">Its id.</param>
/// <param name="Clip">Of the clip; null for the track itself.</param>
/// <param name="Text">Nothing takes back what a source says.</param>
/// <param name="TrackName">What the track was called: another export may number tracks and clips anew.</param>
/// <param name="ClipName">What the clip was called.</param>
public sealed record ObjectNote(string Track, string? Clip, string Text, string TrackName = "", string? ClipName = null);
