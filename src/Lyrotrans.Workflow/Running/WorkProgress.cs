namespace Lyrotrans.Workflow.Running;

/// <summary>How far long work is (0 … 1) and what it is doing.</summary>
public readonly record struct WorkProgress(double Fraction, string Doing);
