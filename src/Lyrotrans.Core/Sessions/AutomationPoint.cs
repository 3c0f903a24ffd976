namespace Lyrotrans.Core.Sessions;

/// <summary>A value at a sample.</summary>
public readonly record struct AutomationPoint(long Sample, double Value);
