// peaks|all THREADS FILE…   times peaks, or everything that intake measures, of sound files
// convert RATE FILE…        compares our path to a rate with the second converter, over whole files
// exactness                 prints the table of docs/exactness.md
using System.Globalization;
using Lyrotrans.Bench;
using Lyrotrans.Core.Time;

switch (args)
{
    case [("peaks" or "all") and var what, var threads, .. { Length: > 0 } files]:
        MeasureBench.Run(what == "peaks", int.Parse(threads, CultureInfo.InvariantCulture), files);
        return 0;
    case ["convert", var rate, .. { Length: > 0 } files]:
        ConvertBench.Run(SampleRate.FromHz(long.Parse(rate, CultureInfo.InvariantCulture)), files);
        return 0;
    case ["exactness"]:
        ExactnessBench.Run();
        return 0;
    default:
        Console.Error.WriteLine("Usage: Lyrotrans.Bench peaks|all THREADS FILE… | convert RATE FILE… | exactness");
        return 2;
}
