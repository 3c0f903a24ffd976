namespace Lyrotrans.Audio.Placing;

/// <summary>A sound that is part of another.</summary>
/// <param name="Of">Its number among those that were held to it.</param>
/// <param name="Gain">Of it in the other, as a ratio; below 0 where its polarity is the other one.</param>
/// <param name="Share">By how much less of the other is left when it is taken out beside those before it: 0 to 1 of its energy.</param>
public readonly record struct SoundPart(int Of, double Gain, double Share);
