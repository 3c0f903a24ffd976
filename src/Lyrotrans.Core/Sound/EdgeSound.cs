namespace Lyrotrans.Core.Sound;

/// <summary>A clip's sound at one of its edges, as it lies in the medium.</summary>
/// <param name="Values">The first or last sample of each channel of its track; 1 is full scale.</param>
/// <param name="Move">The largest move from one sample to the next within 64 samples of the edge, inside the clip.</param>
public sealed record EdgeSound(IReadOnlyList<double> Values, double Move);
