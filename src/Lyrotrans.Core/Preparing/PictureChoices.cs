namespace Lyrotrans.Core.Preparing;

/// <summary>How the reference picture goes.</summary>
/// <param name="Extent">Whether it goes, and how much of it.</param>
/// <param name="Form">What it is coded as.</param>
public sealed record PictureChoices(PictureExtent Extent = PictureExtent.None, PictureForm Form = PictureForm.AsItIs);
