namespace Lyrotrans.Workflow.Intake;

/// <summary>A file made of the channels of several.</summary>
/// <param name="From">Media of the session and a channel (from 0) of each, in order.</param>
/// <param name="Name">What the file is called.</param>
/// <param name="Sha256">Of the file in the store.</param>
public sealed record JoinedMedium(IReadOnlyList<JoinedChannel> From, string Name, string Sha256);
