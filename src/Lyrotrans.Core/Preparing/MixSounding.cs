namespace Lyrotrans.Core.Preparing;

/// <summary>Which tracks sound in the guide mix, and in prints of returns and buses; which of them go as files of their own is another thing.</summary>
public enum MixSounding
{
    /// <summary>Those that go.</summary>
    WhatGoes,

    /// <summary>All that are on and sound in the session, whether they go or not.</summary>
    AllHere,

    /// <summary>All that sound in the session, but those that are marked.</summary>
    AllButMarked,

    /// <summary>Those that are marked, and no other: one voice's share of the hall.</summary>
    OnlyMarked,
}
