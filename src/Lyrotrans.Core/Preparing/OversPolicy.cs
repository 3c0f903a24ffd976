namespace Lyrotrans.Core.Preparing;

/// <summary>What becomes of samples above full scale in integer files; float keeps them.</summary>
public enum OversPolicy
{
    /// <summary>They are held at full scale, and said.</summary>
    Hold,

    /// <summary>All sound files are lowered by as much as the loudest needs, so that they keep their balance, and that is said.</summary>
    Lower,
}
