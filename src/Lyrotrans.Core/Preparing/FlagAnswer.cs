using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Preparing;

/// <summary>What was answered to a kind of flag. It holds for the objects that the flag had then, as they were then; of any other the flag is open again.</summary>
/// <param name="Code">The flag's.</param>
/// <param name="Words">What the flag said then.</param>
/// <param name="Accepted">Whether it may stay as it is.</param>
/// <param name="Note">A sentence for the receiver; may be empty.</param>
/// <param name="Objects">What the answer was given on: a sum for each object.</param>
public sealed record FlagAnswer(string Code, string Words, bool Accepted, string Note, ValueArray<string> Objects)
{
    /// <summary>The longest note, in characters.</summary>
    public const int MostLetters = 500;
}
