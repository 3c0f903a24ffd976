using System.Diagnostics;
using System.Globalization;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Returning;

namespace Lyrotrans.Bench;

/// <summary>Times looking at files that came back, with landmarks of what was sent made first and then kept.</summary>
internal static class ReturnedBench
{
    public static void Run(string sent, string[] files)
    {
        var scratch = Directory.CreateTempSubdirectory("lyro-bench-").FullName;
        try
        {
            var package = Timed("read what was sent", () => SentPackage.Whole(LoadedSide.Load(sent, scratch)));
            var made = Timed("landmarks made", () => SentMarks.Of(package, _ => { }, CancellationToken.None));
            using var kept = new MemoryStream();
            made.Write(kept);
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{kept.Length / 1e6:0.0} MB of landmarks"));
            foreach (var file in files)
            {
                kept.Position = 0;
                var found = Timed(Path.GetFileName(file), () => Returned.Look(package, [new SoundFileOf(Path.GetFileName(file), new DiskFile(file))], _ => { }, CancellationToken.None, SentMarks.Read(kept)));
                Console.WriteLine($"  {found[0].Verdict}");
            }
        }
        finally
        {
            Directory.Delete(scratch, recursive: true);
        }
    }

    private static T Timed<T>(string what, Func<T> work)
    {
        var (clock, before) = (Stopwatch.StartNew(), Process.GetCurrentProcess().TotalProcessorTime);
        var result = work();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{what}: {clock.Elapsed.TotalSeconds:0.0} s, processors {(Process.GetCurrentProcess().TotalProcessorTime - before).TotalSeconds:0.0} s"));
        return result;
    }
}
