namespace Lyrotrans.Audio.Render;

/// <summary>Delivers a track's channels as another number of them.</summary>
public static class ChannelFold
{
    /// <summary>To one: the mean. From one to more: the same in each. Otherwise the first channels, silence in the rest.</summary>
    public static void Apply(double[][] from, int fromChannels, double[][] into, int toChannels, int count)
    {
        if (toChannels == 1 && fromChannels > 1)
        {
            for (var i = 0; i < count; i++)
            {
                var sum = 0.0;
                for (var c = 0; c < fromChannels; c++)
                {
                    sum += from[c][i];
                }

                into[0][i] = sum / fromChannels;
            }

            return;
        }

        for (var c = 0; c < toChannels; c++)
        {
            if (fromChannels == 1 || c < fromChannels)
            {
                from[fromChannels == 1 ? 0 : c].AsSpan(0, count).CopyTo(into[c]);
            }
            else
            {
                into[c].AsSpan(0, count).Clear();
            }
        }
    }
}
