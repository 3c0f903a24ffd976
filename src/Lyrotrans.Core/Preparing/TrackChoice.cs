using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Preparing;

/// <summary>One row of the track sheet.</summary>
/// <param name="TrackId">The session's track.</param>
/// <param name="Name">A delivered name typed in; none takes the pattern's.</param>
/// <param name="Inverted">Whether its sound is printed with the polarity inverted.</param>
/// <param name="Marked">Whether it is among the tracks that <see cref="MixSounding"/> calls marked.</param>
/// <param name="Take">The name of the take that sounds; none is the one that sounds in the session.</param>
/// <param name="Spares">Whether its other takes go too; see <see cref="TakeTracks"/>.</param>
/// <param name="Group">The stem that it goes into; none is the bus that it feeds.</param>
public sealed record TrackChoice(
    string TrackId, Treatment Treatment, DeliveredChannels Channels = DeliveredChannels.AsTrack, string? Name = null, string? Group = null, bool Inverted = false, bool Marked = false, string? Take = null, bool Spares = false)
{
    /// <summary>Further forms in which it goes, muted beneath this one.</summary>
    public ValueArray<BeneathChoice> Beneath { get; init; }

    /// <summary>Effects that a print of it does not go through, as <see cref="PrintEffects.NamesOf"/> calls them. In mixes it goes through all.</summary>
    public ValueArray<string> Without { get; init; }

    /// <summary>How many times single effects of it are oversampled, as <see cref="PrintEffects.NamesOf"/> calls them; in mixes too.</summary>
    public ValueArray<(string Effect, int Times)> Oversampled { get; init; }

    /// <summary>The track whose further form this row is, and in no document; null for every row of the track sheet.</summary>
    public string? Of { get; init; }
}
