namespace Lyrotrans.Core.Naming;

/// <summary>Which leftovers are taken off the names of tracks; see <see cref="NameCleaner"/>.</summary>
/// <param name="Numbers">A number in front, which is read as order: <c>03_Cello</c>.</param>
/// <param name="Dates">Date and time stamps: <c>Cello_20260321_1015</c>.</param>
/// <param name="Takes">Take numbers at the end: <c>Cello take 3</c>, <c>Cello_03</c>.</param>
/// <param name="Copies">What copying leaves: <c>Cello (2)</c>, <c>Cello copy</c>.</param>
/// <param name="Prints">What printing leaves: <c>Cello_bounced</c>.</param>
/// <param name="Spaces">Blanks and underscores that are doubled, or at an end.</param>
public sealed record NameCleaning(bool Numbers = false, bool Dates = false, bool Takes = false, bool Copies = false, bool Prints = false, bool Spaces = false)
{
    /// <summary>Whether there is any rule.</summary>
    public bool Any => this != new NameCleaning();
}
