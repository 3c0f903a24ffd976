namespace Lyrotrans.Workflow.Hearing;

/// <summary>Why a place in a sound is worth listening to.</summary>
public enum EarPlaceKind
{
    /// <summary>The first sound above −120 dBFS.</summary>
    FirstSound,

    /// <summary>The loudest sample.</summary>
    Peak,

    /// <summary>A run of three samples or more at full scale.</summary>
    Clipped,

    /// <summary>Silence of two seconds or more between sounds.</summary>
    Silence,

    /// <summary>The largest difference from what was meant, where there is any.</summary>
    Difference,

    /// <summary>The last sound above −120 dBFS.</summary>
    LastSound,
}
