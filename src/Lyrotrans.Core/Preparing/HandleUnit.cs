namespace Lyrotrans.Core.Preparing;

public enum HandleUnit
{
    Milliseconds,
    Frames,
    Samples,
}
