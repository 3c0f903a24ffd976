using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Codes of what is brought in.</summary>
public static class IntakeCodes
{
    /// <summary>Nothing in the folder can be read.</summary>
    public static readonly FindingCode Nothing = new("intake.nothing");

    /// <summary>The file holds no sound: 0 samples.</summary>
    public static readonly FindingCode NoSound = new("intake.no-sound");

    /// <summary>The MIDI file has no notes; it brings tempo, meters and markers only.</summary>
    public static readonly FindingCode NoNotes = new("intake.no-notes");

    /// <summary>A second file describes a session; the first leads and the second was left out.</summary>
    public static readonly FindingCode SecondSession = new("intake.second-session");

    /// <summary>A session that lies beside another gives way in something.</summary>
    public static readonly FindingCode BesideGives = new("intake.beside-gives");

    /// <summary>Sources say different tempo maps; one leads until the engineer decides.</summary>
    public static readonly FindingCode MapsDiffer = new("intake.maps-differ");

    /// <summary>Tracks cannot be joined or split any more as was decided.</summary>
    public static readonly FindingCode EditLost = new("intake.edit-lost");

    /// <summary>A sound file cannot be the print, stem, guide mix or click any more that it was decided to be.</summary>
    public static readonly FindingCode RoleLost = new("intake.role-lost");

    /// <summary>A track cannot be cut at its silences any more as was decided.</summary>
    public static readonly FindingCode CutLost = new("intake.cut-lost");

    /// <summary>What a note was said of is not there any more, or cannot be told.</summary>
    public static readonly FindingCode NoteLost = new("intake.note-lost");

    /// <summary>A picture that does not go: another is the reference picture.</summary>
    public static readonly FindingCode OtherPicture = new("intake.other-picture");

    /// <summary>Links in a folder are not followed.</summary>
    public static readonly FindingCode Links = new("intake.links");

    /// <summary>Files are of no use here and were left out.</summary>
    public static readonly FindingCode LeftOut = new("intake.left-out");

    /// <summary>A sound file may have another rate than its header says.</summary>
    public static readonly FindingCode RateDoubted = new("intake.rate-doubted");

    /// <summary>A medium is missing; its clips are silent.</summary>
    public static readonly FindingCode MediaMissing = new("intake.media-missing");

    /// <summary>There is not enough room for the media inside a document.</summary>
    public static readonly FindingCode MediaNoRoom = new("intake.media-no-room");

    /// <summary>Media inside a document lie over each other.</summary>
    public static readonly FindingCode MediaShared = new("intake.media-shared");

    /// <summary>Several files could be a medium; none was taken.</summary>
    public static readonly FindingCode MediaDoubted = new("intake.media-doubted");

    /// <summary>Found by an earlier version of the program, which kept no codes.</summary>
    public static readonly FindingCode Earlier = new("intake.earlier");

    /// <summary>A file says a place or a number that no session can have.</summary>
    public static readonly FindingCode Impossible = new("intake.impossible");
}
