namespace Lyrotrans.Core.Single;

/// <summary>As what one thing of a session is taken alone.</summary>
public enum OneForm
{
    /// <summary>Sound as it was recorded: a clip at the rate and depth of its file, without gain, fades and effects; what a track has in a range, dry.</summary>
    Raw,

    /// <summary>Sound as a package would print it: through effects where nothing else was chosen for the track.</summary>
    Printed,

    /// <summary>Notes as a MIDI file that begins on a bar.</summary>
    Notes,

    /// <summary>A whole package of it: notes, print, levels, settings and the session sheet.</summary>
    Bundle,
}
