namespace Lyrotrans.Core.Sound;

/// <summary>What a machine did to recorded sound.</summary>
public enum SoundFaultKind
{
    /// <summary>Samples that stand still amid sound: at nothing, or at the last value before.</summary>
    Dropout,

    /// <summary>A jump that lasts a few samples, or a place where two pieces do not meet.</summary>
    Click,
}
