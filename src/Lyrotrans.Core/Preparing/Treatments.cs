namespace Lyrotrans.Core.Preparing;

/// <summary>What treatments have in common, and their words.</summary>
public static class Treatments
{
    /// <summary>Whether a track of its own goes as a from-zero file.</summary>
    public static bool IsPrint(this Treatment treatment) =>
        treatment is Treatment.PrintDry or Treatment.PrintThrough or Treatment.PrintMixed or Treatment.NotesAndPrint;

    /// <summary>Whether notes go as notes.</summary>
    public static bool HasNotes(this Treatment treatment) => treatment is Treatment.Notes or Treatment.NotesAndPrint;

    /// <summary>As it is said everywhere.</summary>
    public static string Words(this Treatment treatment) => Choices.Treatments[treatment].Words;
}
