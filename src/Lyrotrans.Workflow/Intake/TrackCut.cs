using System.Text.Json.Serialization;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A decision that a track from zero is cut back at its silences.</summary>
/// <param name="Track">Its identifier.</param>
/// <param name="Sha256">Of the medium that was measured: of other sound the silences lie elsewhere.</param>
/// <param name="Rule">By which they were found.</param>
/// <param name="Edges">Where sound begins and ends, by turns, in frames of the medium.</param>
public sealed record TrackCut(string Track, string Sha256, CutRule Rule, IReadOnlyList<long> Edges)
{
    /// <summary>The stretches that are kept, in frames of the medium.</summary>
    [JsonIgnore]
    public IEnumerable<SampleRange> Spans => Edges.Chunk(2).Select(e => new SampleRange(e[0], e[1]));
}
