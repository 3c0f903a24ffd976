using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Core.Carrying;

/// <summary>
/// The fewest outputs that bring everything that goes, as well as any output can: what is carried somewhere counts as brought only where it is carried, what is converted at best where it is converted.
/// The treatments stand: what is printed needs its print, what is kept as clips one file of clips. The record goes always, and counts for nothing, since no program but ours makes a session of it.
/// </summary>
public sealed class SmallestSet
{
    private static readonly Fate[] s_bestFirst = [Fate.Carried, Fate.Converted, Fate.Printed];

    private SmallestSet(ValueArray<OutputUse> uses, ValueArray<(string Kind, int Objects)> onRecord) => (Uses, OnRecord) = (uses, onRecord);

    /// <summary>Every output that could go, in the order of the carry plan.</summary>
    public ValueArray<OutputUse> Uses { get; }

    /// <summary>Kinds of objects, and how many of each no output but the record brings.</summary>
    public ValueArray<(string Kind, int Objects)> OnRecord { get; }

    /// <summary>Whether what goes now is the smallest set.</summary>
    public bool Goes => Uses.All(u => u.Goes == u.IsNeeded);

    /// <summary>Finds the smallest set.</summary>
    /// <param name="plan">What goes, and how.</param>
    /// <param name="formats">The formats of clips that the receiver takes, best first.</param>
    public static SmallestSet Of(DeliveryPlan plan, IReadOnlyList<ClipFormat> formats)
    {
        var outputs = CarryOutput.Possible(plan, formats);
        return Of(outputs, CarryPlan.Of(plan, outputs).Rows, CarryOutput.Written(plan), Asked(plan, outputs));
    }

    /// <summary>Finds it for a carry plan.</summary>
    /// <param name="columns">All outputs that could go.</param>
    /// <param name="rows">What becomes of everything in them.</param>
    /// <param name="goes">The outputs that go now.</param>
    /// <param name="asked">Sets of outputs of which the treatments ask for one.</param>
    public static SmallestSet Of(ValueArray<CarryOutput> columns, IEnumerable<CarryRow> rows, IReadOnlyCollection<CarryOutput> goes, IEnumerable<IReadOnlyCollection<CarryOutput>> asked)
    {
        var outputs = columns.Where(o => o.Kind != OutputKind.Record).ToList();
        var objects = rows.SelectMany(r => r.Objects.Select(o => (r.Kind, Best: Best(o, columns)))).Where(o => o.Best is not null).Select(o => (o.Kind, Best: o.Best!.Value)).ToList();
        var needs = objects.Select(o => (o.Best, 1)).Concat(asked.Select(a => (Bits(outputs, a.Contains), objects.Count + 1)));
        var set = new FewestOutputs(needs.Where(n => n.Item1 != 0), outputs.Count, Bits(outputs, o => o.Kind == OutputKind.Clips), Bits(outputs, goes.Contains)).Find();
        var uses = outputs.Select((output, i) =>
        {
            var bit = 1UL << i;
            var others = set & ~bit;
            var adds = objects.Where(o => (o.Best & bit) != 0 && (o.Best & others) == 0).GroupBy(o => o.Kind).Select(g => (g.Key, g.Count()));
            return new OutputUse(output, goes.Contains(output), (set & bit) != 0, objects.Count(o => (o.Best & bit) != 0), [.. adds]);
        });
        return new SmallestSet([.. uses], [.. objects.Where(o => o.Best == 0).GroupBy(o => o.Kind).Select(g => (g.Key, g.Count()))]);
    }

    private static IEnumerable<IReadOnlyCollection<CarryOutput>> Asked(DeliveryPlan plan, IReadOnlyCollection<CarryOutput> outputs)
    {
        foreach (var kind in new[] { OutputKind.Prints, OutputKind.Midi, OutputKind.MarkerList, OutputKind.Clips })
        {
            yield return [.. outputs.Where(o => o.Kind == kind)];
        }

        if (plan.Preparation.Tracks.Any(c => c.Treatment == Treatment.StemOnly))
        {
            yield return [.. outputs.Where(o => o.Kind == OutputKind.Stems)];
        }
    }

    /// <summary>The outputs that bring an object best, as bits; none where only the record has it, and null where it is held back or goes without its sound.</summary>
    private static ulong? Best(CarryObject item, ValueArray<CarryOutput> columns)
    {
        if (columns.Select((c, i) => (c, i)).Any(c => c.c.Kind == OutputKind.Record && item.Fates[c.i] != Fate.Carried))
        {
            return null;
        }

        var files = columns.Select((c, i) => (c.Kind, Fate: item.Fates[i])).Where(c => c.Kind != OutputKind.Record).Select(c => c.Fate).ToList();
        var best = s_bestFirst.FirstOrDefault(files.Contains);
        return best == Fate.None ? 0 : Bits(files, f => f == best);
    }

    private static ulong Bits<T>(IReadOnlyList<T> all, Func<T, bool> has) => all.Select((one, i) => has(one) ? 1UL << i : 0).Aggregate(0UL, (bits, bit) => bits | bit);
}
