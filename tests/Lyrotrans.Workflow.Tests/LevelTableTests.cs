using System.Globalization;
using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Files;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>The table of levels that goes along where it is asked for.</summary>
public sealed class LevelTableTests(DemoSession demo)
{
    // Two tracks and the mix of them.
    private DeliveryPlan Plan(SoundContainer container) => demo.Plan(p => p with
    {
        Container = container,
        Mix = new MixChoices(Guide: true, Levels: true),
        Tracks = p.Tracks.Select((c, i) => c.Treatment.IsPrint() && i < 3 ? c : c with { Treatment = Treatment.HoldBack }).ToValueArray(),
    });

    private static List<IReadOnlyList<string>> Rows(byte[] table) => [.. DelimitedText.Read(Encoding.UTF8.GetString(table)).Select(r => r.Cells)];

    [Theory]
    [InlineData(SoundContainer.Wav)]
    [InlineData(SoundContainer.Flac)]
    public void Each_sound_file_has_its_levels_as_they_are_measured_in_the_package(SoundContainer container)
    {
        var plan = Plan(container);
        var zip = demo.Build(plan);
        Assert.True(demo.Prove(zip, plan).Passed);
        var measured = PackageLevels.Measure(new DiskFile(zip), plan, demo.Folder, CancellationToken.None);
        var rows = Rows(PackageTamper.Read(zip, "_levels.csv"));
        Assert.Equal(plan.Files.Where(f => f.IsSound).Select(f => f.Path[(plan.Root.Length + 1)..]), rows.Skip(1).Select(r => r[0]));
        Assert.InRange(rows.Count, 3, 10);
        foreach (var row in rows.Skip(1))
        {
            var levels = measured[$"{plan.Root}/{row[0]}"];
            Assert.Equal(levels.PeakDb, double.Parse(row[1], CultureInfo.InvariantCulture), 0.0051);
            Assert.Equal(levels.Loudness!.Value, double.Parse(row[3], CultureInfo.InvariantCulture), 0.0051);
            Assert.Equal(levels.FirstSound, long.Parse(row[9], CultureInfo.InvariantCulture));
        }
    }

    [Fact]
    public void Another_level_in_it_is_found_also_where_the_package_is_of_another_machine()
    {
        var plan = Plan(SoundContainer.Wav);
        var zip = demo.Build(plan);
        var rows = Rows(PackageTamper.Read(zip, "_levels.csv"));
        static string Louder(byte[] table, string level, double by) =>
            Encoding.UTF8.GetString(table).Replace(level, (double.Parse(level, CultureInfo.InvariantCulture) + by).ToString("0.00", CultureInfo.InvariantCulture), StringComparison.Ordinal);
        var other = PackageTamper.OfOtherMachine(PackageTamper.With(zip, "_levels.csv", b => Encoding.UTF8.GetBytes(Louder(b, rows[1][3], 0.01))));
        Assert.Contains(demo.Prove(PackageTamper.With(zip, "_levels.csv", b => Encoding.UTF8.GetBytes(Louder(b, rows[1][3], 0.01))), plan).Rows, r => r is { What: "every byte", Passed: false });
        Assert.Contains(demo.Prove(other, plan).Rows, r => r is { What: "levels of the files", Passed: false });
        Assert.DoesNotContain(demo.Prove(PackageTamper.OfOtherMachine(zip), plan).Rows, r => r is { What: "levels of the files", Passed: false });
    }

    [Theory]
    [InlineData("-3.00", -3.0049, true)]
    [InlineData("-3.00", -2.995_000_001, true)]
    [InlineData("-2.99", -2.995_000_001, true)]
    [InlineData("-3.01", -3.0049, false)]
    [InlineData("-2.99", -3.0049, false)]
    [InlineData("-3.0", -3.0049, false)]
    [InlineData("-Infinity", -3.0049, false)]
    public void A_number_of_the_table_is_the_measured_one_as_any_machine_rounds_it(string said, double measured, bool same)
    {
        var levels = new SoundLevels(measured, 0, 0, 0, 0, 0, 0, 0, 0, 0);
        var table = Encoding.UTF8.GetString(LevelTable.Write([("a.wav", levels with { PeakDb = 77 })])).Replace("77.00", said, StringComparison.Ordinal);
        Assert.Equal(same ? null : "a.wav", LevelTable.Difference([("a.wav", levels)], Encoding.UTF8.GetBytes(table)));
    }

    [Fact]
    public void Silence_is_a_number_that_other_programs_read()
    {
        var silent = new SoundLevels(double.NegativeInfinity, double.NegativeInfinity, double.NegativeInfinity, 0, double.NegativeInfinity, null, null, 0, 0, 0);
        Assert.EndsWith("\r\na.wav,-Infinity,-Infinity,-Infinity,0.00,-Infinity,,,0,0,0\r\n", Encoding.UTF8.GetString(LevelTable.Write([("a.wav", silent)])));
    }

    [Fact]
    public void It_goes_only_where_it_is_asked_for() => Assert.DoesNotContain(demo.Plan().Files, f => f.Kind == PlannedKind.LevelTable);
}
