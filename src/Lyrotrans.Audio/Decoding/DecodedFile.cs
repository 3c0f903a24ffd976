namespace Lyrotrans.Audio.Decoding;

/// <summary>A file that a decoder has open.</summary>
/// <param name="Process">Where.</param>
/// <param name="Number">What it is called there.</param>
/// <param name="Facts">What its header says.</param>
internal sealed record DecodedFile(DecoderProcess Process, int Number, CodedFacts Facts);
