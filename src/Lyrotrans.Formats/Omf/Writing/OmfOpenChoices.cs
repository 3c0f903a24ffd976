namespace Lyrotrans.Formats.Omf.Writing;

/// <summary>
/// What the published texts leave open and files do in more than one way. Each is one line here, so that one line changes it when a receiver refuses a file.
/// </summary>
/// <remarks>docs/formats/omf.md, section 9.</remarks>
internal static class OmfOpenChoices
{
    /// <summary>Bytes of a reference: 8, the object's id in the first four. Readers that know 4 find it there too.</summary>
    public const int ReferenceBytes = 8;

    /// <summary>Texts end with a zero, whether or not their length says it.</summary>
    public const bool TerminatedTexts = true;

    /// <summary>The argument of an effect that is the sound going into it.</summary>
    public const int InputArgument = 1;

    /// <summary>The argument that is a gain's multiplier or a pan's place, as other writers' files have it.</summary>
    public const int ValueArgument = 2;

    /// <summary>The argument that is the level of a transition.</summary>
    public const int LevelArgument = -1;

    /// <summary>How a curve gets from point to point.</summary>
    public const short HoldsBetween = 1;

    public const short StraightBetween = 2;

    public const short LinearFade = 1;

    public const short EqualPowerFade = 2;

    /// <summary>The kind of an attribute whose value is a text.</summary>
    public const short TextAttribute = 2;

    /// <summary>The date in every file, in seconds since 1970: the first instant of 2000. The same session and choices give the same bytes; the manifest says when it was built.</summary>
    public const uint Stamp = 946_684_800;

    public const string EditRateType = "omfi:Rational";
}
