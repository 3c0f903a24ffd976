namespace Lyrotrans.Core.Following;

/// <summary>What a file of a package is to somebody who has an earlier one.</summary>
public enum FollowedState
{
    /// <summary>Its path is new.</summary>
    New,

    /// <summary>Other bytes at a path that he has.</summary>
    Replaced,

    /// <summary>The same bytes at the same path: it is not sent again.</summary>
    AsBefore,

    /// <summary>He has it, and it is part of the package no more.</summary>
    Gone,
}
