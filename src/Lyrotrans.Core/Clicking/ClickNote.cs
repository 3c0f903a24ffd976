namespace Lyrotrans.Core.Clicking;

/// <summary>The note that each click of a file stands for.</summary>
public enum ClickNote
{
    /// <summary>A quarter.</summary>
    Quarter,

    /// <summary>An eighth.</summary>
    Eighth,

    /// <summary>A half.</summary>
    Half,

    /// <summary>A dotted quarter, as in 6/8 counted in two.</summary>
    DottedQuarter,
}
