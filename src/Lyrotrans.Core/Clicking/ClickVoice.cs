namespace Lyrotrans.Core.Clicking;

/// <summary>What a click sounds like. All are made here, and begin at their full level on the very sample of their beat.</summary>
public enum ClickVoice
{
    /// <summary>Two plain tones, the accents' a fifth above the beat's.</summary>
    Tones,

    /// <summary>A block of wood: two dull partials and a hard edge.</summary>
    Wood,

    /// <summary>A small bell, which rings longer than the others.</summary>
    Bell,

    /// <summary>The shortest: high, and gone at once.</summary>
    Tick,
}
