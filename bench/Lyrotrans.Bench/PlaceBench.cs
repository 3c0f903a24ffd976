using System.Diagnostics;
using System.Globalization;
using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Bench;

/// <summary>Times finding sound files in one of them, and prints where each lies.</summary>
internal static class PlaceBench
{
    public static void Run(string reference, string[] files)
    {
        var clock = Stopwatch.StartNew();
        var places = new SignalFinder(() => Open(reference)).Find([.. files.Select(f => (Func<ISampleSource>)(() => Open(f)))], _ => { }, CancellationToken.None);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{files.Length} files in {clock.Elapsed.TotalSeconds:0.0} s, {places.Count(p => p?.IsSure == true)} sure"));
        foreach (var (file, place) in files.Zip(places))
        {
            Console.WriteLine(place is { } p
                ? string.Create(CultureInfo.InvariantCulture, $"{Path.GetFileName(file)}: {p.Sample:0.00}, agreement {p.Agreement:0.00}, clearness {p.Clearness:0}, second {p.SecondAgreement:0.00}, correlation {p.Correlation:0.00}, {p.GainDb:0.00} dB{(p.IsSure ? ", sure" : string.Empty)}")
                : $"{Path.GetFileName(file)}: not found");
        }
    }

    private static ISampleSource Open(string file) => SoundFile.Open(new DiskFile(file), file).Source;
}
