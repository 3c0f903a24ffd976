namespace Lyrotrans.Core.Arriving;

/// <summary>What sound says of where media of the other side come from.</summary>
/// <param name="Known">By ids of the other side's media: which sent sound each holds.</param>
/// <param name="SentHeard">Ids of sent media whose sound is here and is not silence.</param>
/// <param name="FoundHeard">The same of the other side.</param>
public sealed record SoundOrigins(IReadOnlyDictionary<string, FoundOrigin> Known, IReadOnlySet<string> SentHeard, IReadOnlySet<string> FoundHeard)
{
    /// <summary>Where no sound was compared.</summary>
    public static SoundOrigins None { get; } = new(new Dictionary<string, FoundOrigin>(), new HashSet<string>(), new HashSet<string>());

    /// <summary>Whether a medium that is known by something else has another sound than what it is taken for.</summary>
    public bool Differs(string found, FoundOrigin origin) => origin.Basis != ArrivalBasis.Sound && FoundHeard.Contains(found) && SentHeard.Contains(origin.Media);
}
