namespace Lyrotrans.Workflow.Editing;

/// <summary>A change that was worked out and not kept yet: what it makes and what it is called, or why it cannot be made.</summary>
/// <param name="After">The new state; null where it cannot be made.</param>
/// <param name="Words">What changed, for the list of revisions.</param>
/// <param name="Problem">Why it cannot be made, in words for the engineer; null where it can.</param>
public sealed record Edit<T>(T? After, string Words, string? Problem)
    where T : class
{
    public static implicit operator Edit<T>(Refused refused) => new(null, string.Empty, refused.Problem);
}
