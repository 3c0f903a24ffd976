using System.Globalization;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>Tempo and key as sound files say them of themselves: what does not change in the session.</summary>
/// <param name="Tempo">Quarters a minute; null where it changes.</param>
/// <param name="Key">Such as <c>Dm</c> or <c>Bb</c>; null where it changes, or none is known.</param>
public sealed record SoundTags(Rational? Tempo, string? Key)
{
    /// <summary>Nothing is said.</summary>
    public static SoundTags None { get; } = new(null, null);

    /// <summary>Whether anything is said.</summary>
    public bool Any => Tempo is not null || Key is not null;

    /// <summary>The tempo with its fraction, to three places; null where it changes.</summary>
    public string? TempoText => Tempo?.ToDouble().ToString("0.###", CultureInfo.InvariantCulture);

    /// <summary>The tempo in whole quarters a minute, the nearest, for tags that hold no fraction; null where it changes.</summary>
    public string? WholeTempo => Tempo?.RoundToEven().ToString(CultureInfo.InvariantCulture);

    /// <summary>What the files of a preparation say.</summary>
    public static SoundTags Of(Session session, Preparation preparation)
    {
        if (!preparation.Tags)
        {
            return None;
        }

        var tempos = session.Tempo.Points.Select(p => p.QuartersPerMinute).Distinct().ToList();
        var keys = session.Keys.Select(k => k.Name).Distinct().ToList();
        return new SoundTags(tempos.Count == 1 ? tempos[0] : null, keys.Count == 1 && keys[0] != "?" ? keys[0] : null);
    }
}
