namespace Lyrotrans.Core.Clicking;

/// <summary>The accents of one meter, wherever it occurs.</summary>
public sealed record MeterAccents(int Beats, int BeatUnit, AccentPattern Pattern);
