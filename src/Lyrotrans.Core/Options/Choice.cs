namespace Lyrotrans.Core.Options;

/// <summary>One value that an option can have.</summary>
/// <param name="Value">The value.</param>
/// <param name="Id">In documents; it never changes.</param>
/// <param name="Words">In a form, beside the name of the option.</param>
/// <param name="Change">In the list of revisions, where it was chosen; alone it says what was done.</param>
public sealed record Choice<T>(T Value, string Id, string Words, string Change)
    where T : struct, Enum;
