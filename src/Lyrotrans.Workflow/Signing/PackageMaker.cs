namespace Lyrotrans.Workflow.Signing;

/// <summary>When a package is made, and the key that its maker signs it with.</summary>
/// <param name="Made">The date of its files.</param>
/// <param name="Key">The room's, or the installation's.</param>
public sealed record PackageMaker(DateTimeOffset Made, SigningKey Key);
