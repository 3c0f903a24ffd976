namespace Lyrotrans.Formats.MarkerList;

/// <summary>A row of a marker list as it was written: its line, its text, and where it begins and ends, each in one kind of position.</summary>
/// <param name="Line">In the file, from 1.</param>
/// <param name="End">Null for a point.</param>
/// <param name="By">Who set it; empty where no column says it.</param>
/// <param name="Date">When, as it is written; empty where no column says it.</param>
public sealed record MarkerRow(int Line, string Text, MarkerPlace Start, MarkerPlace? End, string By = "", string Date = "");
