namespace Lyrotrans.Core.Preparing;

/// <summary>Where every from-zero file begins.</summary>
public enum RangeStart
{
    SessionStart,
    Bar1,
    Chosen,
}
