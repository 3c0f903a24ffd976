using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>A key signature from a place on: sharps above zero, flats below (−7 … 7), as in a Standard MIDI File.</summary>
public readonly record struct KeyChange(Rational Quarter, int Sharps, bool Minor)
{
    private static readonly string[] s_major = ["Cb", "Gb", "Db", "Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#"];
    private static readonly string[] s_minor = ["Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#", "G#", "D#", "A#"];

    /// <summary><c>Dm</c>, <c>Bb</c>.</summary>
    public string Name => Sharps is < -7 or > 7 ? "?" : Minor ? s_minor[Sharps + 7] + "m" : s_major[Sharps + 7];

    /// <summary>Reads <c>Dm</c>, <c>Bb</c>, <c>F#m</c>.</summary>
    public static bool TryParse(string? name, Rational quarter, out KeyChange key)
    {
        var text = (name ?? string.Empty).Trim().Replace('♭', 'b').Replace('♯', '#');
        var minor = text.EndsWith('m');
        var place = Array.IndexOf(minor ? s_minor : s_major, minor ? text[..^1] : text);
        key = new KeyChange(quarter, place - 7, minor);
        return place >= 0;
    }
}
