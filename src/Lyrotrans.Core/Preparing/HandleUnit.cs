namespace Lyrotrans.Core.Preparing;

/// <summary>What a handle is counted in.</summary>
public enum HandleUnit
{
    Milliseconds,
    Frames,
    Samples,
}
