using Lyrotrans.Fuzz;

// fuzz TARGET CORPUS SECONDS [SEED]: mutates files of a corpus and reads them; a reader may refuse with a clear error, and nothing else.
if (args.Length < 3 || args[0] != "aaf" || !Directory.Exists(args[1]) || !double.TryParse(args[2], System.Globalization.CultureInfo.InvariantCulture, out var seconds))
{
    Console.Error.WriteLine("Usage: fuzz aaf CORPUS SECONDS [SEED]");
    return 3;
}

var seed = args.Length > 3 ? int.Parse(args[3], System.Globalization.CultureInfo.InvariantCulture) : Environment.TickCount;
var corpus = Directory.EnumerateFiles(args[1], "*.aaf").Order(StringComparer.Ordinal).SelectMany(f => AafTarget.Seeds(File.ReadAllBytes(f))).ToList();
return FuzzRun.Run(corpus, AafTarget.Read, TimeSpan.FromSeconds(seconds), seed) ? 0 : 1;
