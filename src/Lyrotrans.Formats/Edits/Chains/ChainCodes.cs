using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>Codes of chains of mobs.</summary>
public static class ChainCodes
{
    /// <summary>Two mobs have one identifier; the first is used.</summary>
    public static readonly FindingCode SameMob = new("chain.same-mob");

    /// <summary>A clip refers to a mob that is not in the file; its media must be found by name.</summary>
    public static readonly FindingCode MobMissing = new("chain.mob-missing");

    /// <summary>A clip refers to a slot that its mob does not have; it is silent.</summary>
    public static readonly FindingCode SlotMissing = new("chain.slot-missing");

    /// <summary>A clip refers to no source at all; it is silent.</summary>
    public static readonly FindingCode NoSource = new("chain.no-source");

    /// <summary>A chain of mobs is too long or comes back to itself; it is silent.</summary>
    public static readonly FindingCode TooLong = new("chain.too-long");

    /// <summary>A segment on a sound track holds no sound that can be used; it is silent.</summary>
    public static readonly FindingCode NoSound = new("chain.no-sound");
}
