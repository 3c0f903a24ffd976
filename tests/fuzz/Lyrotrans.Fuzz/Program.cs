using Lyrotrans.Fuzz;

// fuzz TARGET CORPUS SECONDS [SEED]: mutates files of a corpus and reads them; a reader may refuse with a clear error, and nothing else.
var targets = new Dictionary<string, Func<byte[], IEnumerable<byte[]>>> { ["aaf"] = AafTarget.Seeds, ["omf"] = f => [f], ["otio"] = f => [f] };
if (args.Length < 3 || !targets.TryGetValue(args[0], out var seeds) || !Directory.Exists(args[1]) || !double.TryParse(args[2], System.Globalization.CultureInfo.InvariantCulture, out var seconds))
{
    Console.Error.WriteLine("Usage: fuzz aaf|omf|otio CORPUS SECONDS [SEED]");
    return 3;
}

var seed = args.Length > 3 ? int.Parse(args[3], System.Globalization.CultureInfo.InvariantCulture) : Environment.TickCount;
var corpus = Directory.EnumerateFiles(args[1], $"*.{args[0]}").Order(StringComparer.Ordinal).SelectMany(f => seeds(File.ReadAllBytes(f))).ToList();
return FuzzRun.Run(corpus, bytes => DocumentTarget.Read(bytes, args[0]), args[0] == "otio" ? Either : Mutation.Of, TimeSpan.FromSeconds(seconds), seed) ? 0 : 1;

// A document of text that is broken as bytes is hardly ever read; so most changes leave it whole.
static byte[] Either(byte[] seed, byte[] other, Random random) => random.Next(8) == 0 ? Mutation.Of(seed, other, random) : JsonMutation.Of(seed, other, random);
