namespace Lyrotrans.Core.Sessions;

/// <summary>A feed from a track to a return or bus. Level in dB, pan −1 … 1.</summary>
public sealed record Send(string Target, double LevelDb, bool PreFader = false, double Pan = 0, Automation? LevelAutomation = null);
