namespace Lyrotrans.Audio.Decoding;

/// <summary>What the header of a compressed file says.</summary>
/// <param name="Frames">Sample frames.</param>
/// <param name="Hz">Sample frames a second.</param>
/// <param name="Channels">At least 1.</param>
/// <param name="Format">As libsndfile numbers formats.</param>
internal readonly record struct CodedFacts(long Frames, int Hz, int Channels, int Format);
