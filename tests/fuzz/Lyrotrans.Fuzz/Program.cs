using Lyrotrans.Formats.Registry;
using Lyrotrans.Fuzz;

// fuzz FORMAT CORPUS SECONDS [SEED]: mutates files of a corpus and reads them; a reader may refuse with a clear error, and nothing else.
// fuzz formats: the formats that can be fuzzed, a line each.
var formats = SessionFormats.OfClips.ToDictionary(f => f.Extension[1..]);
if (args is ["formats"])
{
    Console.WriteLine(string.Join('\n', formats.Keys));
    return 0;
}

if (args.Length < 3 || !formats.TryGetValue(args[0], out var format) || !Directory.Exists(args[1]) || !double.TryParse(args[2], System.Globalization.CultureInfo.InvariantCulture, out var seconds))
{
    Console.Error.WriteLine($"Usage: fuzz {string.Join('|', formats.Keys)} CORPUS SECONDS [SEED]");
    return 3;
}

var seed = args.Length > 3 ? int.Parse(args[3], System.Globalization.CultureInfo.InvariantCulture) : Environment.TickCount;
var corpus = Directory.EnumerateFiles(args[1], $"*{format.Extension}").Order(StringComparer.Ordinal).SelectMany(f => CompoundSeeds.Of(File.ReadAllBytes(f))).ToList();
return FuzzRun.Run(corpus, bytes => DocumentTarget.Read(bytes, format), corpus.TrueForAll(JsonMutation.Is) ? Either : Mutation.Of, TimeSpan.FromSeconds(seconds), seed) ? 0 : 1;

// A document of text that is broken as bytes is hardly ever read; so most changes leave it whole.
static byte[] Either(byte[] seed, byte[] other, Random random) => random.Next(8) == 0 ? Mutation.Of(seed, other, random) : JsonMutation.Of(seed, other, random);
