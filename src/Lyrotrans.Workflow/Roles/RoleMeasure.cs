namespace Lyrotrans.Workflow.Roles;

/// <summary>What was measured of a sound file in its role.</summary>
/// <param name="Words">In words and numbers.</param>
/// <param name="Late">Session samples that it lies later than what is made here, or than the grid; null where that is not sure.</param>
public sealed record RoleMeasure(string Words, long? Late);
