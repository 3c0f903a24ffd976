using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>A marker as a chain format has it: place and length in samples, exact; text, and who set it when, as the file says it.</summary>
public readonly record struct EditMarker(Rational Place, Rational Length, string Text, string By = "", string Date = "");
