// peaks|all THREADS FILE…   times peaks, or everything that intake measures, of sound files
// convert RATE FILE…        compares our path to a rate with the second converter, over whole files
// clips FORMAT COUNT        times a file of so many clips, planned, written and read
// mix FOLDER SECONDS        times listening to a session from a place on, and each of its tracks
// place REFERENCE FILE…     times finding files in another, and prints where each lies
// faults MINUTES COUNT SEED finds so many faults that were planted in so many minutes of sampled instruments
// arrived COUNT             compares a session of so many clips with what came back of it
// returned SENT FILE…       times looking at files that came back, from landmarks of what was sent
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
    case ["clips", var format, var count]:
        ClipsBench.Run(format, int.Parse(count, CultureInfo.InvariantCulture));
        return 0;
    case ["mix", var folder, var from]:
        MixBench.Run(folder, double.Parse(from, CultureInfo.InvariantCulture));
        return 0;
    case ["place", var reference, .. { Length: > 0 } files]:
        PlaceBench.Run(reference, files);
        return 0;
    case ["faults", var minutes, var count, var seed]:
        FaultsBench.Run(double.Parse(minutes, CultureInfo.InvariantCulture), int.Parse(count, CultureInfo.InvariantCulture), int.Parse(seed, CultureInfo.InvariantCulture));
        return 0;
    case ["arrived", var count]:
        ArrivedBench.Run(int.Parse(count, CultureInfo.InvariantCulture));
        return 0;
    case ["returned", var sent, .. { Length: > 0 } files]:
        ReturnedBench.Run(sent, files);
        return 0;
    case ["exactness"]:
        ExactnessBench.Run();
        return 0;
    default:
        Console.Error.WriteLine("Usage: Lyrotrans.Bench peaks|all THREADS FILE… | convert RATE FILE… | clips FORMAT COUNT | mix FOLDER SECONDS | place REFERENCE FILE… | faults MINUTES COUNT SEED | arrived COUNT | returned SENT FILE… | exactness");
        return 2;
}
