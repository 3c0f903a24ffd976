namespace Lyrotrans.Core.Preparing;

/// <summary>What treatments have in common, and their words.</summary>
public static class Treatments
{
    /// <summary>Whether a track of its own goes as a from-zero file.</summary>
    public static bool IsPrint(this Treatment treatment) =>
        treatment is Treatment.PrintDry || treatment.IsThrough();

    /// <summary>Whether the file of a track is its sound through effects, or notes with a sound.</summary>
    public static bool IsThrough(this Treatment treatment) => treatment is Treatment.PrintThrough or Treatment.PrintLevel or Treatment.PrintMixed or Treatment.NotesAndPrint;

    /// <summary>Whether a track has files or clips of its own where it goes so.</summary>
    public static bool IsNamed(this Treatment treatment) => treatment is not (Treatment.HoldBack or Treatment.StemOnly);

    /// <summary>Whether notes go as notes.</summary>
    public static bool HasNotes(this Treatment treatment) => treatment is Treatment.Notes or Treatment.NotesAndPrint;

    /// <summary>The word for it in names of files.</summary>
    public static string NameWord(this Treatment treatment) => treatment switch
    {
        Treatment.PrintDry => "dry",
        Treatment.PrintThrough => "through",
        Treatment.PrintLevel => "level",
        Treatment.StemOnly => "stem",
        Treatment.PrintMixed => "mixed",
        Treatment.KeepClips => "clips",
        Treatment.Notes => "notes",
        Treatment.NotesAndPrint => "print",
        _ => string.Empty,
    };

    /// <summary>As it is said everywhere.</summary>
    public static string Words(this Treatment treatment) => Choices.Treatments[treatment].Words;
}
