namespace Lyrotrans.Core.Preparing;

/// <summary>What treatments have in common, and their words.</summary>
public static class Treatments
{
    /// <summary>Whether a track of its own goes as a from-zero file.</summary>
    public static bool IsPrint(this Treatment treatment) =>
        treatment is Treatment.PrintDry or Treatment.PrintThrough or Treatment.PrintMixed or Treatment.NotesAndPrint;

    /// <summary>Whether notes go as notes.</summary>
    public static bool HasNotes(this Treatment treatment) => treatment is Treatment.Notes or Treatment.NotesAndPrint;

    public static string Words(this Treatment treatment) => treatment switch
    {
        Treatment.PrintDry => "print dry",
        Treatment.PrintThrough => "print through",
        Treatment.PrintMixed => "print as mixed",
        Treatment.KeepClips => "keep clips",
        Treatment.Notes => "notes",
        Treatment.NotesAndPrint => "notes and print",
        _ => "hold back",
    };
}
