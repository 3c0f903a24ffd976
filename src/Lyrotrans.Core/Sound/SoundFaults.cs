namespace Lyrotrans.Core.Sound;

/// <summary>What is wrong with a sound file's samples.</summary>
/// <param name="SilentChannels">Channels, from 0, that have nothing above −120 dBFS while another has.</param>
/// <param name="Faults">Ascending by sample; at most <see cref="MostFaults"/>, the first.</param>
/// <param name="Count">How many there are.</param>
public sealed record SoundFaults(IReadOnlyList<int> SilentChannels, IReadOnlyList<SoundFault> Faults, int Count)
{
    /// <summary>How many are kept by place; nobody looks at more of one file.</summary>
    public const int MostFaults = 1000;
}
