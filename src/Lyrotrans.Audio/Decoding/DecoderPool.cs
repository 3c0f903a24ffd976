namespace Lyrotrans.Audio.Decoding;

/// <summary>The decoders of this process: started when they are needed, one for each processor at most, and kept.</summary>
internal static class DecoderPool
{
    private static readonly int s_most = Math.Clamp(Environment.ProcessorCount, 1, 8);
    private static readonly Lock s_turn = new();
    private static readonly List<DecoderProcess> s_decoders = [];

    /// <summary>The decoder that has the fewest files open.</summary>
    /// <exception cref="InvalidOperationException">It cannot be started; the words say what to install.</exception>
    public static DecoderProcess Take()
    {
        lock (s_turn)
        {
            s_decoders.RemoveAll(d => d.IsGone);
            var freest = s_decoders.MinBy(d => d.Files);
            if (freest is null || (freest.Files > 0 && s_decoders.Count < s_most))
            {
                s_decoders.Add(freest = DecoderProcess.Start());
            }

            return freest;
        }
    }
}
