using System.Diagnostics;
using System.Globalization;
using Lyrotrans.Audio.Analysis;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Collections;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Bench;

/// <summary>Times what intake measures of sound files, without the start of a program around it.</summary>
internal static class MeasureBench
{
    public static void Run(bool peaksAlone, int threads, string[] files)
    {
        var bytes = files.Sum(f => new FileInfo(f).Length);
        for (var round = 0; round < 3; round++)
        {
            var clock = Stopwatch.StartNew();
            AtOnce.Each(files.Length, i => Measure(files[i], peaksAlone), CancellationToken.None, threads);
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{clock.Elapsed.TotalSeconds:0.00} s, {bytes / clock.Elapsed.TotalSeconds / 1e6:0} MB/s"));
        }
    }

    private static void Measure(string file, bool peaksAlone)
    {
        using var sound = SoundFile.Open(new DiskFile(file), file);
        if (peaksAlone)
        {
            PeakPyramid.Measure(sound.Source, CancellationToken.None).Write(Stream.Null);
        }
        else
        {
            SoundAnalysis.Measure(sound.Source, CancellationToken.None).Peaks.Write(Stream.Null);
        }
    }
}
