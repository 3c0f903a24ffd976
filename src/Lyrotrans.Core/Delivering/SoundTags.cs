using System.Globalization;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>Tempo and key as sound files say them of themselves: what does not change in what they cover.</summary>
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

    /// <summary>What a file of sound says.</summary>
    public static SoundTags Of(DeliveryPlan plan, PlannedFile file)
    {
        if (!plan.Preparation.Tags)
        {
            return None;
        }

        var (rate, session) = (file.Made.Rate, plan.Session);
        var music = SteadyMusic.In(session, new SampleRange(rate.Convert(file.Span.Start, session.Rate), rate.Convert(file.Span.End, session.Rate)));
        return new SoundTags(music.Tempo, music.Key);
    }
}
