using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Following;

/// <summary>Codes of follow-ups.</summary>
public static class FollowingCodes
{
    /// <summary>A follow-up was given without the package that it follows.</summary>
    public static readonly FindingCode Alone = new("following.alone");

    /// <summary>What was given as a follow-up is none.</summary>
    public static readonly FindingCode None = new("following.none");

    /// <summary>A follow-up follows another package than the one that was given.</summary>
    public static readonly FindingCode Other = new("following.other-package");

    /// <summary>The list of a follow-up is not as its maker signed it.</summary>
    public static readonly FindingCode Changed = new("following.list-changed");

    /// <summary>A file that a follow-up relies on is missing or another.</summary>
    public static readonly FindingCode NotAsBefore = new("following.not-as-before");

    /// <summary>The package before is of a form that nothing can follow to the byte, or begins elsewhere.</summary>
    public static readonly FindingCode CannotFollow = new("following.cannot");
}
