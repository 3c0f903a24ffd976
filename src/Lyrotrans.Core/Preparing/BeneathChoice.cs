namespace Lyrotrans.Core.Preparing;

/// <summary>Another form in which a track goes, muted beneath the one that sounds.</summary>
/// <param name="Treatment">What it becomes there.</param>
/// <param name="Name">A delivered name typed in; none takes the pattern's, of the track's name and the treatment's word.</param>
public sealed record BeneathChoice(Treatment Treatment, string? Name = null);
