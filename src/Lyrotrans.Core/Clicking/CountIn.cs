namespace Lyrotrans.Core.Clicking;

/// <summary>Which files begin with the count-in.</summary>
public enum CountIn
{
    /// <summary>All files of the package begin where the count-in does, so that they still start together.</summary>
    AllFiles,

    /// <summary>Only the click is early; its time stamp and the session sheet say by how much.</summary>
    ClickAlone,
}
