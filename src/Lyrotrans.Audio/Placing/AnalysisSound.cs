using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Placing;

/// <summary>Sound as it is looked through: one channel at a rate that holds what tells sounds apart and keeps long files small.</summary>
internal static class AnalysisSound
{
    /// <summary>Samples a second.</summary>
    public const int Hz = 8_000;

    /// <summary>The same as a rate.</summary>
    public static SampleRate Rate { get; } = SampleRate.FromHz(Hz);
}
