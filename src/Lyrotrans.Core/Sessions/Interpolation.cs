namespace Lyrotrans.Core.Sessions;

/// <summary>How automation gets from point to point.</summary>
public enum Interpolation
{
    Linear,

    /// <summary>Holds until the next point.</summary>
    Step,
}
