using System.Buffers.Binary;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// Pairs of peaks of a sound, each known by its two frequencies and the time between them. Where another sound is of it, many pairs of the two lie at one distance; elsewhere hardly two do. So it is found in a moment
/// where a sound lies in many others, or that it lies in none.
/// </summary>
/// <remarks>docs/decisions/0054-landmarks.md.</remarks>
public sealed class Landmarks
{
    // From one peak to the other: 48 ms to 1 s, and 0.8 kHz.
    private const int Nearest = 3;
    private const int Farthest = 62;
    private const int MostApart = 50;

    // Each peak has so many: the strongest after it.
    private const int PairsOfPeak = 6;

    /// <summary>Less than this is what each is known by: the first frequency, the step to the second, and the time between.</summary>
    internal const int Keys = LandmarkPeaks.Bins << 13;

    /// <summary>Less than this is the time of each: three days.</summary>
    internal const int MostTime = 1 << 24;
    private readonly int[] _keys;
    private readonly int[] _times;

    private Landmarks(int[] keys, int[] times) => (_keys, _times) = (keys, times);

    /// <summary>How many there are.</summary>
    public int Count => _keys.Length;

    /// <summary>How many there are that are not alike; a steady tone or a loop has few.</summary>
    public int Different => _keys.Where((k, i) => i == 0 || k != _keys[i - 1]).Count();

    /// <summary>Of a sound as it is.</summary>
    public static Landmarks Of(SearchedSound sound, CancellationToken stop) => LandmarkPeaks.Of(sound.Analysed(stop).Samples, stop).Marks();

    internal static Landmarks Of(List<LandmarkPeaks.Peak> peaks)
    {
        peaks = [.. peaks.OrderBy(p => p.Time).ThenBy(p => p.Frequency)];
        var (keys, times) = (new List<int>(peaks.Count * PairsOfPeak), new List<int>(peaks.Count * PairsOfPeak));
        var (from, strongest) = (0, new List<LandmarkPeaks.Peak>());
        foreach (var peak in peaks)
        {
            while (from < peaks.Count && peaks[from].Time < peak.Time + Nearest)
            {
                from++;
            }

            strongest.Clear();
            for (var i = from; i < peaks.Count && peaks[i].Time <= peak.Time + Farthest; i++)
            {
                if (Math.Abs(peaks[i].Frequency - peak.Frequency) <= MostApart)
                {
                    Keep(strongest, peaks[i]);
                }
            }

            foreach (var other in strongest)
            {
                keys.Add((peak.Frequency << 13) | ((other.Frequency - peak.Frequency + MostApart) << 6) | (other.Time - peak.Time));
                times.Add(peak.Time);
            }
        }

        var (sorted, at) = (keys.ToArray(), times.ToArray());
        Array.Sort(sorted, at);
        return new Landmarks(sorted, at);
    }

    private static void Keep(List<LandmarkPeaks.Peak> strongest, LandmarkPeaks.Peak peak)
    {
        if (strongest.Count < PairsOfPeak)
        {
            strongest.Add(peak);
            return;
        }

        var weakest = 0;
        for (var i = 1; i < strongest.Count; i++)
        {
            weakest = strongest[i].Strength < strongest[weakest].Strength ? i : weakest;
        }

        if (peak.Strength > strongest[weakest].Strength)
        {
            strongest[weakest] = peak;
        }
    }

    /// <summary>What each is known by, ascending; below <see cref="Keys"/>.</summary>
    internal ReadOnlySpan<int> Key => _keys;

    /// <summary>Of each, how many <see cref="LandmarkPeaks.Hop"/>s after the beginning it lies.</summary>
    internal ReadOnlySpan<int> Time => _times;

    /// <summary>Writes them: how many, then of each its key and its time, as 32-bit little-endian numbers.</summary>
    public void Write(Stream output)
    {
        var bytes = new byte[4 + (8 * Count)];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, Count);
        for (var i = 0; i < Count; i++)
        {
            BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(4 + (8 * i)), _keys[i]);
            BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(8 + (8 * i)), _times[i]);
        }

        output.Write(bytes);
    }

    /// <summary>What <see cref="Write"/> wrote.</summary>
    /// <exception cref="InvalidDataException">It is damaged.</exception>
    /// <exception cref="EndOfStreamException">It is cut short.</exception>
    public static Landmarks Read(Stream input)
    {
        Span<byte> head = stackalloc byte[4];
        input.ReadExactly(head);
        var count = BinaryPrimitives.ReadInt32LittleEndian(head);
        if (count < 0 || (8L * count) + input.Position > input.Length)
        {
            throw new InvalidDataException($"There are no {count} landmarks in what was kept.");
        }

        var bytes = new byte[8 * count];
        input.ReadExactly(bytes);
        var (keys, times) = (new int[count], new int[count]);
        for (var i = 0; i < count; i++)
        {
            (keys[i], times[i]) = (BinaryPrimitives.ReadInt32LittleEndian(bytes.AsSpan(8 * i)), BinaryPrimitives.ReadInt32LittleEndian(bytes.AsSpan((8 * i) + 4)));
            if (keys[i] is < 0 or >= Keys || times[i] is < 0 or >= MostTime || (i > 0 && keys[i] < keys[i - 1]))
            {
                throw new InvalidDataException("The landmarks that were kept are damaged.");
            }
        }

        return new Landmarks(keys, times);
    }
}
