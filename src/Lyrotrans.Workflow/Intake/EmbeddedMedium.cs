using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A medium that was taken out of the document that held it.</summary>
/// <param name="Media">What the document says of it.</param>
/// <param name="Names">What it is called beside the document, once for each composition that refers to it.</param>
/// <param name="Path">Where it was written.</param>
public sealed record EmbeddedMedium(DocumentMedia Media, IReadOnlyList<string> Names, string Path);
