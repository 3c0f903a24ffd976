using System.Runtime.InteropServices;
using SharpFuzz.Common;

namespace Lyrotrans.Fuzz;

/// <summary>Which branches of the readers a file took, and how often, as the instrumented assemblies count them; without instrumentation nothing is ever new.</summary>
internal sealed unsafe class Coverage
{
    private const int Places = 1 << 16;
    private static readonly int[] s_steps = [1, 2, 3, 4, 8, 16, 32, 128];
    private readonly byte[] _seen = new byte[Places];

    static Coverage() => Trace.SharedMem = (byte*)NativeMemory.AllocZeroed(Places);

    /// <summary>Gives the instrumented assemblies somewhere to count; before any of them runs.</summary>
    public static void Prepare() => Clear();

    /// <summary>Begins to count from nothing.</summary>
    public static void Clear()
    {
        Counts.Clear();
        Trace.PrevLocation = 0;
    }

    /// <summary>Whether what was counted since took a branch, or took one so many more times, as nothing before did.</summary>
    public bool IsNew()
    {
        var counts = Counts;
        var isNew = false;
        for (var at = counts.IndexOfAnyExcept((byte)0); at is >= 0 and < Places;)
        {
            var step = StepOf(counts[at]);
            isNew |= (_seen[at] & step) == 0;
            _seen[at] |= step;
            var next = counts[(at + 1)..].IndexOfAnyExcept((byte)0);
            at = next < 0 ? Places : at + 1 + next;
        }

        return isNew;
    }

    /// <summary>Branches that were taken at all.</summary>
    public int Branches => _seen.Count(s => s != 0);

    // A branch taken 40 times and 41 times is the same news.
    private static byte StepOf(int count) => (byte)(1 << Array.FindLastIndex(s_steps, s => s <= count));

    private static Span<byte> Counts => new(Trace.SharedMem, Places);
}
