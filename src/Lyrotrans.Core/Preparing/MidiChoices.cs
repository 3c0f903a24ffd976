namespace Lyrotrans.Core.Preparing;

/// <summary>How notes and the tempo map go out as MIDI.</summary>
/// <param name="MutedParts">Whether muted parts go too.</param>
public sealed record MidiChoices(MidiForm Form = MidiForm.OneFile, TempoForm Tempo = TempoForm.Corrected, bool MutedParts = false);
