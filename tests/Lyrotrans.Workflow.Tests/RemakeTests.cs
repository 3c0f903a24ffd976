using System.Text;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A package is made again and compared byte by byte, as far as the machine that made it allows. `./lyrotrans mutate all` alters packages in every way that is known.</summary>
public class RemakeTests(DemoSession demo)
{
    private ProofRow[] Failures(string zip, DeliveryPlan plan) => [.. demo.Prove(zip, plan).Rows.Where(r => !r.Passed)];

    private static byte[] Text(byte[] bytes, string from, string to)
    {
        var text = Encoding.UTF8.GetString(bytes);
        Assert.Contains(from, text, StringComparison.Ordinal);
        return Encoding.UTF8.GetBytes(text.Replace(from, to, StringComparison.Ordinal));
    }

    [Fact]
    public void What_no_reader_looks_at_is_seen_by_its_bytes()
    {
        var plan = demo.Plan();
        var zip = demo.Build(plan);
        var passed = demo.Prove(zip, plan);
        Assert.True(passed.Passed, string.Join("\n", passed.Rows.Where(r => !r.Passed)));
        Assert.Equal(plan.Files.Count, passed.Rows.Count(r => r.What == "every byte"));
        var sheet = Failures(PackageTamper.With(zip, ".html", b => Text(b, "<h1", "<h1 title=\"more\"")), plan);
        Assert.Equal("every byte", Assert.Single(sheet).What);
        Assert.Contains(Failures(PackageTamper.With(zip, "Narrator.wav", b => [.. b, 1, 2, 3, 4]), plan), r => r is { What: "every byte" } && r.Subject.EndsWith("Narrator.wav", StringComparison.Ordinal));

        var bytes = File.ReadAllBytes(zip);
        File.WriteAllBytes(zip, [.. bytes[..^2], 4, 0, .. "more"u8]);
        Assert.Equal(("records of the zip", $"differ from byte {Core.Naming.Digits.Grouped(bytes.Length - 2)} on"), Failures(zip, plan).Select(r => (r.What, r.Difference)).Single());
    }

    [Fact]
    public void A_package_of_another_machine_may_differ_by_rounding_in_what_was_computed_and_in_nothing_else()
    {
        var plan = demo.Plan(p => p with { Encoding = SampleEncoding.Integer16 });
        var zip = PackageTamper.OfOtherMachine(demo.Build(plan));
        Assert.Equal("records of the zip", Assert.Single(Failures(zip, plan)).What);

        // Its noise is known, so a single step of the last bit shows; ten are too much for any noise.
        var file = plan.Files.First(f => f.Path.EndsWith("Narrator.wav", StringComparison.Ordinal)).Path;
        Assert.Equal(["rounding", "records of the zip"], Failures(PackageTamper.With(zip, "Narrator.wav", b => Stepped(b, 1)), plan).Select(r => r.What).Order(StringComparer.Ordinal).Reverse());
        Assert.Contains(Failures(PackageTamper.With(zip, "Narrator.wav", b => Stepped(b, 10)), plan), r => r.What == "sound");
        Assert.Contains(Failures(PackageTamper.With(zip, "Narrator.wav", b => [.. b[..60], (byte)(b[60] ^ 1), .. b[61..]]), plan), r => r.What == "every byte" && r.Subject == file);
    }

    [Fact]
    public void A_newer_form_is_refused()
    {
        var plan = demo.Plan();
        var zip = PackageTamper.With(demo.Build(plan), "manifest.json", b => Text(b, $"\"writer\": {PackageStamp.WriterHere}", $"\"writer\": {PackageStamp.WriterHere + 1}"));
        Assert.Contains("newer version", Assert.Single(Failures(zip, plan)).Difference, StringComparison.Ordinal);
    }

    // The sample of the largest value, so that it stays one.
    private static byte[] Stepped(byte[] wave, int steps)
    {
        var layout = WaveReader.Read(new MemoryStream(wave), "t.wav").Layout;
        var copy = (byte[])wave.Clone();
        var at = Enumerable.Range(0, (int)layout.DataBytes / 2).Select(i => (int)layout.DataOffset + (2 * i)).MaxBy(i => Math.Abs((int)BitConverter.ToInt16(wave, i)));
        var value = BitConverter.ToInt16(wave, at);
        BitConverter.GetBytes((short)(value - (Math.Sign(value) * steps))).CopyTo(copy, at);
        return copy;
    }
}
