using System.Globalization;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Midi;

/// <summary>How far a written grid strays from the session's, in samples at the session's rate, and how many tempo events it takes.</summary>
/// <param name="Samples">The tempo map's largest distance at any beat, tempo, note, controller or marker.</param>
/// <param name="At">Where that is.</param>
/// <param name="Events">Tempo events.</param>
/// <param name="Rounded">The largest distance from a note, controller or marker to the tick that it takes; it adds to the other.</param>
/// <param name="Why">What keeps the format from lying nearer, where something does; null where nothing does.</param>
public sealed record TempoDrift(double Samples, MusicalPosition At, int Events, double Rounded, string? Why)
{
    /// <summary>Whether everything lies as near as a form of tempo promises, but for its tick.</summary>
    /// <param name="form">The form.</param>
    public bool Keeps(TempoForm form) => TempoBound.Of(form) is not { } most || Samples <= most;

    /// <summary>All of it in words: <c>0.98 samples at 12|1|0, ticks add 0.00</c>.</summary>
    public override string ToString() =>
        string.Create(CultureInfo.InvariantCulture, $"{Samples:0.00} samples at {At}, ticks add {Rounded:0.00}{(Why is null ? string.Empty : $"; {Why}")}");
}
