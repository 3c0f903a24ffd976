using System.Reflection;

namespace Lyrotrans.Core.Flags;

/// <summary>Every kind of flag, the worst of each cost first.</summary>
public static class FlagKinds
{
    /// <summary>A sound file that is not there.</summary>
    public static readonly FlagKind MissingMedia = new("missing-media", FlagCost.SoundLost, "# files are missing", "Their clips would be silent.");

    /// <summary>A sound file whose header seems to say a wrong rate.</summary>
    public static readonly FlagKind WrongRate = new("wrong-rate", FlagCost.SoundLost, "# files may be at another rate than they say", "They would play at the wrong speed and pitch.");

    /// <summary>A clip that is longer than what is left of its medium.</summary>
    public static readonly FlagKind PastEnd = new("past-end", FlagCost.SoundLost, "# clips run past their media", "What lies past the end is silent.");

    /// <summary>A sound file at another rate than the session.</summary>
    public static readonly FlagKind OtherRate = new("other-rate", FlagCost.SoundLost, "# files are at another rate than the session", "Read unconverted they would play fast or slow.");

    /// <summary>Sound or notes before bar 1.</summary>
    public static readonly FlagKind BeforeBar1 = new("before-bar-1", FlagCost.SoundLost, "There is music before bar 1", "Files from bar 1 on would lack it.");

    /// <summary>A track that goes dry whose effects make the sound.</summary>
    public static readonly FlagKind SoundMaker = new("sound-maker", FlagCost.SoundLost, "# tracks go without the effect that makes their sound", "The other side would have to make the sound anew.");

    /// <summary>A return that is sent to and does not go.</summary>
    public static readonly FlagKind LostReturn = new("lost-return", FlagCost.SoundLost, "# returns that are sent to do not go", "The tracks would arrive without that effect.");

    /// <summary>Sound that was coded with loss.</summary>
    public static readonly FlagKind Lossy = new("lossy", FlagCost.SoundLost, "# files were coded with loss", "What was left out then cannot come back, and is heard once it is worked on.");

    /// <summary>The same sound of one file on two tracks at one place.</summary>
    public static readonly FlagKind Doubled = new("doubled", FlagCost.SoundLost, "# clips play what another track plays at the same place", "It is louder than it was meant, and combs once one of them moves.");

    /// <summary>A few samples of nothing between two clips.</summary>
    public static readonly FlagKind EditGap = new("edit-gap", FlagCost.SoundLost, "# gaps of a few samples between clips", "They click.");

    /// <summary>A clip that begins or ends with a jump.</summary>
    public static readonly FlagKind EdgeStep = new("edge-step", FlagCost.SoundLost, "# clips jump at an edge that no fade covers", "They click.");

    /// <summary>Samples within a clip that stand still amid sound.</summary>
    public static readonly FlagKind Dropout = new("dropout", FlagCost.SoundLost, "# clips have dropouts", "The sound breaks off there for a moment.");

    /// <summary>A jump within a clip.</summary>
    public static readonly FlagKind DigitalClick = new("digital-click", FlagCost.SoundLost, "# clips have clicks inside", "They are in the file; ask for another transfer of it, or mend them by hand.");

    /// <summary>Runs of samples at full scale.</summary>
    public static readonly FlagKind Clipped = new("clipped", FlagCost.SoundLost, "# files clip", "What was cut off at full scale is gone.");

    /// <summary>Notes after the end of their part.</summary>
    public static readonly FlagKind NotesOutside = new("notes-outside", FlagCost.SoundLost, "# parts have notes outside of them", "Those notes do not sound here and do not go.");

    /// <summary>A hidden track with content, held back.</summary>
    public static readonly FlagKind HiddenTrack = new("hidden-track", FlagCost.SentUnmeant, "# hidden tracks have sound", "They are held back unless somebody says otherwise.");

    /// <summary>A muted track with content, held back.</summary>
    public static readonly FlagKind MutedTrack = new("muted-track", FlagCost.SentUnmeant, "# muted tracks have sound", "They are held back unless somebody says otherwise.");

    /// <summary>A track that is switched off and has content, held back.</summary>
    public static readonly FlagKind SwitchedOffTrack = new("switched-off-track", FlagCost.SentUnmeant, "# tracks that are switched off have sound", "They are held back unless somebody says otherwise.");

    /// <summary>A return that goes as a print while what is sent to it does not go.</summary>
    public static readonly FlagKind WetAndDry = new("wet-and-dry", FlagCost.SentUnmeant, "# returns go as prints while what feeds them does not", "The effect would sound, and what made it would not.");

    /// <summary>A track that is, by its name, a take of another that sounds at once with it.</summary>
    public static readonly FlagKind TwoTakes = new("two-takes", FlagCost.SentUnmeant, "# tracks are takes of what sounds beside them", "Two takes of one part would sound at once.");

    /// <summary>A track and a print of it that both go with their sound.</summary>
    public static readonly FlagKind PrintedTwice = new("printed-twice", FlagCost.SentUnmeant, "# tracks go, and so do prints of them", "The same would sound twice there.");

    /// <summary>No source says a tempo.</summary>
    public static readonly FlagKind NoTempo = new("no-tempo", FlagCost.WorkThere, "No source says a tempo", "Bars would be counted at 120 in 4/4.");

    /// <summary>A map of one tempo that the sound's onsets disagree with.</summary>
    public static readonly FlagKind OtherTempo = new("other-tempo", FlagCost.WorkThere, "The sound seems to have another tempo than the map", "The grid may not fit the sound.");

    /// <summary>A stereo file with the same sound in both channels, that goes as stereo.</summary>
    public static readonly FlagKind EqualChannels = new("equal-channels", FlagCost.WorkThere, "# files have the same sound in both channels", "Twice the bytes, and a mono source that pans like stereo.");

    /// <summary>A channel that has nothing while another of its file sounds.</summary>
    public static readonly FlagKind SilentChannel = new("silent-channel", FlagCost.WorkThere, "# files have a channel without sound", "It plays on one side only, or half of it is missing.");

    /// <summary>A file whose samples do not swing around 0.</summary>
    public static readonly FlagKind Offset = new("dc-offset", FlagCost.WorkThere, "# files have a DC offset", "It takes headroom, and every edit in it clicks.");

    /// <summary>A track with its polarity inverted that goes with the file's.</summary>
    public static readonly FlagKind Inverted = new("inverted-track", FlagCost.WorkThere, "# tracks have their polarity inverted in the mix", "A dry print has the polarity of the file.");

    /// <summary>A print through a limiter, or a filter that shuts away what most sound is made of.</summary>
    public static readonly FlagKind InsideLimiter = new("inside-limiter", FlagCost.WorkThere, "# prints have a limiter or a steep filter inside", "What it takes away nobody can bring back.");

    /// <summary>Stems through a master that is not linear.</summary>
    public static readonly FlagKind MasterLimiter = new("master-limiter", FlagCost.WorkThere, "Stems are taken after a limiter on the master", "Their sum is not the mix.");

    /// <summary>A clip off the frames where places are frames.</summary>
    public static readonly FlagKind SubFrame = new("sub-frame", FlagCost.WorkThere, "# clips do not lie on whole frames", "Places in frames move them by up to half a frame.");

    /// <summary>A clip with less beyond its edges than the receiver wants.</summary>
    public static readonly FlagKind ShortHandle = new("short-handle", FlagCost.WorkThere, "# clips have too short a handle", "Edits and fades there have nothing to reach into.");

    /// <summary>A file that is larger than the receiver takes.</summary>
    public static readonly FlagKind LargeFile = new("large-file", FlagCost.SoundLost, "# files are larger than the receiver takes", "The other side cannot read them.");

    /// <summary>A name that is longer than the receiver takes.</summary>
    public static readonly FlagKind LongName = new("long-name", FlagCost.WorkThere, "# names are longer than the receiver takes", "They would be cut off, and may be the same then.");

    /// <summary>A name with letters that the receiver does not take.</summary>
    public static readonly FlagKind OtherLetters = new("other-letters", FlagCost.WorkThere, "# names have letters that the receiver does not take", "They would arrive as other letters, or not at all.");

    /// <summary>A picture with sound of its own.</summary>
    public static readonly FlagKind PictureSound = new("picture-sound", FlagCost.WorkThere, "The picture has sound of its own", "It would sound beside what is sent, and may be of another mix.");

    /// <summary>A picture of another frame rate than the session's.</summary>
    public static readonly FlagKind PictureFrames = new("picture-frames", FlagCost.WorkThere, "The picture runs at another frame rate than the session", "It drifts against the sound, or timecodes do not agree.");

    /// <summary>A session of another frame rate than the receiver's.</summary>
    public static readonly FlagKind OtherFrames = new("other-frames", FlagCost.WorkThere, "The receiver works at another frame rate", "Timecodes would not agree; places in samples do.");

    /// <summary>Takes that do not sound, of a track that goes.</summary>
    public static readonly FlagKind SpareTakes = new("spare-takes", FlagCost.WorkThere, "# tracks have spare takes that do not go", "The other side cannot choose another take.");

    /// <summary>Tracks of one name.</summary>
    public static readonly FlagKind SameName = new("same-name", FlagCost.WorkThere, "# names stand for several tracks each", "The delivered names are told apart by number.");

    /// <summary>A name that some systems do not take.</summary>
    public static readonly FlagKind RefusedName = new("refused-name", FlagCost.WorkThere, "# names have letters that some systems refuse", "They go with other letters in their place.");

    /// <summary>A marker with a length.</summary>
    public static readonly FlagKind Sections = new("sections", FlagCost.WorkThere, "# sections go as points", "MIDI and most files of clips hold where they begin, and not how long they are.");

    /// <summary>Markers far behind the last sound.</summary>
    public static readonly FlagKind EmptyEnd = new("empty-end", FlagCost.WorkThere, "The end lies far after the last sound", "Nothing, but length, if the files went on to it.");

    /// <summary>A track for notes without any.</summary>
    public static readonly FlagKind NoNotes = new("no-notes", FlagCost.WorkThere, "# tracks for notes have none", "Their MIDI tracks would be empty.");

    /// <summary>A part without notes and controls.</summary>
    public static readonly FlagKind EmptyPart = new("empty-part", FlagCost.WorkThere, "# parts are empty", "They do not go.");

    /// <summary>A note without an end.</summary>
    public static readonly FlagKind HangingNote = new("hanging-note", FlagCost.WorkThere, "# parts have notes that never seem to end", "They are closed where the part ends.");

    /// <summary>A note within another of its key.</summary>
    public static readonly FlagKind NestedNotes = new("nested-notes", FlagCost.WorkThere, "# parts strike a key while it sounds", "A MIDI file cannot say which of two ends.");

    /// <summary>Parts of one track that overlap.</summary>
    public static readonly FlagKind OverlappingParts = new("overlapping-parts", FlagCost.WorkThere, "# parts overlap", "Joined, their notes would mix.");

    /// <summary>A change of program.</summary>
    public static readonly FlagKind Program = new("program", FlagCost.WorkThere, "# tracks ask for an instrument by number", "The receiver's instruments may not have it.");

    /// <summary>All, the worst first.</summary>
    public static IReadOnlyList<FlagKind> All { get; } =
        [.. typeof(FlagKinds).GetFields(BindingFlags.Public | BindingFlags.Static).Where(f => f.FieldType == typeof(FlagKind)).Select(f => (FlagKind)f.GetValue(null)!).OrderBy(k => k.Cost)];
}
