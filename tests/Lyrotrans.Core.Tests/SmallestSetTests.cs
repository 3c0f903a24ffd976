using CsCheck;
using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Tests;

/// <summary>The smallest set against a brute force that tries every set of outputs, object by object.</summary>
public sealed class SmallestSetTests
{
    private static readonly ValueArray<CarryOutput> s_outputs =
    [
        new(OutputKind.Prints), new(OutputKind.GuideMix), new(OutputKind.Stems), new(OutputKind.FinishedMix),
        new(OutputKind.Clips, TestFormats.Any), new(OutputKind.Clips, TestFormats.Any with { Id = "second" }), new(OutputKind.Clips, TestFormats.Any with { Id = "third" }),
        new(OutputKind.Picture), new(OutputKind.Midi), new(OutputKind.MarkerList), new(OutputKind.Record),
    ];

    // Few outputs bring a thing, and few bring it well.
    private static readonly Gen<Fate> s_fate = Gen.Frequency((5, Gen.Const(Fate.None)), (2, Gen.Const(Fate.Printed)), (1, Gen.Const(Fate.Converted)), (1, Gen.Const(Fate.Carried)));
    private static readonly Gen<CarryObject> s_object =
        from fates in s_fate.Array[s_outputs.Count - 1]
        from record in Gen.Frequency((8, Gen.Const(Fate.Carried)), (1, Gen.Const(Fate.HeldBack)), (1, Gen.Const(Fate.None)))
        select new CarryObject("thing", [.. fates, record]);

    private static readonly Gen<(CarryObject[] Objects, bool[] Goes, int[] Asked)> s_case = Gen.Select(s_object.Array[0, 14], Gen.Bool.Array[s_outputs.Count], Gen.Int[0, s_outputs.Count - 2].Array[0, 3]);

    [Fact]
    public void It_is_the_one_that_trying_every_set_finds() => s_case.Sample(given =>
    {
        var goes = s_outputs.Where((_, i) => given.Goes[i]).ToList();

        // What is asked for are single outputs, or any file of clips.
        var asked = given.Asked.Select(i => s_outputs[i].Kind == OutputKind.Clips ? s_outputs.Where(o => o.Kind == OutputKind.Clips).ToList() : [s_outputs[i]]).ToList();
        var found = SmallestSet.Of(s_outputs, [new CarryRow("a", [.. given.Objects])], goes, asked);
        Assert.Equal(Tried(given.Objects, goes, asked), found.Uses.Where(u => u.IsNeeded).Select(u => u.Output));
    }, iter: 4000);

    [Fact]
    public void What_an_output_adds_is_what_is_missing_without_it() => s_case.Sample(given =>
    {
        var found = SmallestSet.Of(s_outputs, [new CarryRow("a", [.. given.Objects])], [], []);
        var set = found.Uses.Where(u => u.IsNeeded).Select(u => u.Output).ToList();
        foreach (var use in found.Uses)
        {
            List<CarryOutput> without = [.. set.Where(o => o != use.Output)];
            var lost = given.Objects.Count(o => Brings(o, [.. without, use.Output]) && !Brings(o, without));
            Assert.Equal(lost, use.Adds.Sum(a => a.Objects));
            Assert.Equal(given.Objects.Count(o => Brings(o, [use.Output])), use.Brings);
        }

        Assert.Equal(given.Objects.Count(o => o.Fates[^1] == Fate.Carried && o.Fates.Take(s_outputs.Count - 1).All(f => f == Fate.None)), found.OnRecord.Sum(r => r.Objects));
    }, iter: 1000);

    [Fact]
    public void A_mix_is_in_it_only_where_something_sounds_in_no_print()
    {
        var dry = TestSessions.Of(TestSessions.Track("a", TestSessions.Clip("c", 0, 1000)));
        Assert.Equal(["prints", "MIDI"], Needed(dry));
        Assert.Equal(["prints", "guide mix", "MIDI"], Needed(dry with { Tracks = [dry.Tracks[0] with { Pan = 0.5 }] }));
    }

    private static List<string> Needed(Session session)
    {
        var preparation = Preparation.Default(session, TestFormats.Any);
        var set = SmallestSet.Of(DeliveryPlan.Make(session, preparation with { Mix = new MixChoices() }, new Dictionary<string, MediaSound>()), [TestFormats.Any]);
        return [.. set.Uses.Where(u => u.IsNeeded).Select(u => u.Output.Name)];
    }

    private static bool Brings(CarryObject item, IEnumerable<CarryOutput> set)
    {
        Fate[] order = [Fate.Carried, Fate.Converted, Fate.Printed];
        var all = item.Fates.Take(s_outputs.Count - 1).ToList();
        return item.Fates[^1] == Fate.Carried && order.Where(all.Contains).Take(1).Any(best => set.Any(o => item.Fates[s_outputs.ToList().IndexOf(o)] == best));
    }

    private static List<CarryOutput> Tried(CarryObject[] objects, List<CarryOutput> goes, List<List<CarryOutput>> asked)
    {
        List<CarryOutput> best = [];
        long[] bestScore = [];
        var outputs = s_outputs.Where(o => o.Kind != OutputKind.Record).ToList();
        for (var number = 0; number < 1 << outputs.Count; number++)
        {
            var set = outputs.Where((_, i) => (number >> i & 1) == 1).ToList();
            if (set.Count(o => o.Kind == OutputKind.Clips) > 1)
            {
                continue;
            }

            // As much as can be, what is asked for first; then as few outputs as can be; then as little change as can be; then the first outputs.
            long[] score =
            [
                asked.Count(a => a.Any(set.Contains)), objects.Count(o => Brings(o, set)), -set.Count, -outputs.Count(o => set.Contains(o) != goes.Contains(o)),
                .. outputs.Select(o => set.Contains(o) ? 1L : 0),
            ];
            if (bestScore.Length == 0 || Enumerable.Range(0, score.Length).Select(i => score[i].CompareTo(bestScore[i])).FirstOrDefault(c => c != 0) > 0)
            {
                (best, bestScore) = (set, score);
            }
        }

        return best;
    }
}
