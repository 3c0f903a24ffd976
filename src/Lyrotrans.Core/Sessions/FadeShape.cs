namespace Lyrotrans.Core.Sessions;

/// <summary>Fade shapes by their maths; x runs from 0 (silent) to 1 (full).</summary>
public enum FadeShape
{
    /// <summary>x.</summary>
    Linear,

    /// <summary>sin(πx/2).</summary>
    EqualPower,

    /// <summary>½ − ½·cos(πx).</summary>
    S,

    /// <summary>(eᵏˣ − 1)/(eᵏ − 1), k = ln 1000: straight in dB but for its last step to silence.</summary>
    Exponential,

    /// <summary>The exponential one inverted over: quick at first.</summary>
    Logarithmic,

    /// <summary>Points, straight lines between.</summary>
    Sampled,
}
