namespace Lyrotrans.Core.Sessions;

/// <summary>How much of its track's way to the mix a print that came along has in it, so that it is not done twice.</summary>
public enum PrintHolds
{
    /// <summary>The sound through polarity and effects; fader, pan and sends go on.</summary>
    Effects,

    /// <summary>The fader and its automation too; pan and sends go on.</summary>
    Level,

    /// <summary>Fader and pan with their automation too; sends go on.</summary>
    Mix,
}
