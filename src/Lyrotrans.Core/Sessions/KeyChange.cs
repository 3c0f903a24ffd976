using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>A key signature from a place on: sharps above zero, flats below (−7 … 7), as in a Standard MIDI File.</summary>
public readonly record struct KeyChange(Rational Quarter, int Sharps, bool Minor)
{
    private static readonly string[] s_major = ["Cb", "Gb", "Db", "Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#"];
    private static readonly string[] s_minor = ["Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#", "G#", "D#", "A#"];

    /// <summary><c>Dm</c>, <c>Bb</c>.</summary>
    public string Name => Sharps is < -7 or > 7 ? "?" : Minor ? s_minor[Sharps + 7] + "m" : s_major[Sharps + 7];
}
