namespace Lyrotrans.Core.Mapping;

/// <summary>What a change of map would do: how many things it moves in time, and how far at most, in samples.</summary>
/// <param name="Clips">Clips that begin at another sample.</param>
/// <param name="Pushed">Clips that begin later than their quarter, because the one ahead of them still sounds.</param>
/// <param name="Notes">Notes that begin at another sample.</param>
/// <param name="Markers">Markers that lie at another sample.</param>
public sealed record MapEffect(int Clips, long LargestClip, int Pushed, int Notes, long LargestNote, int Markers, long LargestMarker);
