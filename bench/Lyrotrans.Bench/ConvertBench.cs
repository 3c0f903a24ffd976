using System.Diagnostics;
using System.Globalization;
using Lyrotrans.Audio.Comparing;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Bench;

/// <summary>Whole files through the converter of prints and through the second one, which shares nothing with it.</summary>
internal static class ConvertBench
{
    private const int Stretch = 1 << 15;

    public static void Run(SampleRate to, string[] files)
    {
        foreach (var file in files)
        {
            using var sound = SoundFile.Open(new DiskFile(file), file);
            var (clock, error) = (Stopwatch.StartNew(), Whole(sound, to));
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{file}: {20 * Math.Log10(error.Peak):0.0} dBFS, {error.Late:0.0000000} samples late, {clock.Elapsed.TotalSeconds:0.0} s"));
        }
    }

    /// <summary>The difference over a whole sound, from before its first sample to after its last.</summary>
    public static (double Peak, double Late) Whole(SoundFile sound, SampleRate to) => Whole(sound.Source, to);

    /// <summary>The same of any source.</summary>
    public static (double Peak, double Late) Whole(Audio.Sources.ISampleSource source, SampleRate to)
    {
        using var error = new ConversionError(source, to);
        var last = source.Rate.Convert(source.Length, to) + Stretch;
        for (long at = -Stretch; at < last; at += Stretch)
        {
            error.Take(0, at, (int)Math.Min(Stretch, last - at));
        }

        return (error.Peak, error.Late);
    }
}
