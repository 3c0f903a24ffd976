namespace Lyrotrans.Workflow.Intake;

/// <summary>A channel (from 0) of a session's medium.</summary>
public sealed record JoinedChannel(string Media, int Channel);
