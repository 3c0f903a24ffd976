// Times one thing without the start of a program around it: peaks or everything that intake measures, of sound files, on so many threads.
using System.Diagnostics;
using Lyrotrans.Audio.Analysis;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Collections;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Sounds;

if (args is not [("peaks" or "all") and var what, var threads, .. { Length: > 0 } files])
{
    Console.Error.WriteLine("Usage: Lyrotrans.Bench peaks|all THREADS FILE…");
    return 2;
}

void Measure(int i)
{
    using var sound = SoundFile.Open(new DiskFile(files[i]), files[i]);
    if (what == "peaks")
    {
        PeakPyramid.Measure(sound.Source, CancellationToken.None).Write(Stream.Null);
    }
    else
    {
        SoundAnalysis.Measure(sound.Source, CancellationToken.None).Peaks.Write(Stream.Null);
    }
}

var bytes = files.Sum(f => new FileInfo(f).Length);
for (var round = 0; round < 3; round++)
{
    var clock = Stopwatch.StartNew();
    AtOnce.Each(files.Length, Measure, CancellationToken.None, int.Parse(threads, System.Globalization.CultureInfo.InvariantCulture));
    Console.WriteLine(FormattableString.Invariant($"{clock.Elapsed.TotalSeconds:0.00} s, {bytes / clock.Elapsed.TotalSeconds / 1e6:0} MB/s"));
}

return 0;
