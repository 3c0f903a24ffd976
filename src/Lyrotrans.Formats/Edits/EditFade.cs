using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>A fade as a chain format says it: its length in samples of the composition's rate, exact, and its shape.</summary>
/// <param name="Curve">For a sampled shape: gains from the silent end.</param>
/// <param name="Places">Where they are, from 0 to 1; none is equal steps.</param>
public sealed record EditFade(Rational Length, FadeShape Shape, ValueArray<double> Curve = default, ValueArray<double> Places = default);
