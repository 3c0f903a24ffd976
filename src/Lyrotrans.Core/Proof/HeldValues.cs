using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Proof;

/// <summary>What a form in which a session is written holds of it, and how exactly.</summary>
/// <param name="GainBound">By how many dB its own rounding may change a level; 0 for none.</param>
/// <param name="PanBound">By how much its own rounding may change a place between −1 and 1; 0 for none.</param>
/// <param name="NotCompared">The fields of the model that are not compared in it, each by its type and name, with the reason.</param>
public sealed record HeldValues(double GainBound, double PanBound, IReadOnlyDictionary<(Type Type, string Field), string> NotCompared)
{
    /// <summary>Everything, exactly.</summary>
    public static HeldValues All { get; } = new(0, 0, new Dictionary<(Type, string), string>());

    /// <summary>A file of clips, whose numbers are ratios.</summary>
    public static HeldValues OfClips { get; } = new(0.001, 0.000_001, new Dictionary<(Type, string), string>
    {
        [(typeof(Session), nameof(Session.Depth))] = "a file of clips has none of its own; the depth of each medium is compared",
        [(typeof(Media), nameof(Media.TimeReference))] = "it lies in the medium's own header, which is compared by its bytes",
        [(typeof(Media), nameof(Media.Identifiers))] = "the medium's own is compared; a reader adds what else it knows the medium by",
    });

    /// <summary>Whether a field is not compared.</summary>
    public bool Lacks(Type type, string field) => NotCompared.ContainsKey((type, field));
}
