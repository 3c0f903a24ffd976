using Lyrotrans.Fuzz;

// fuzz TARGET FIXTURES SECONDS [SEED]: mutates good files and reads them; a reader may refuse with a clear error, and nothing else.
// fuzz targets: what can be fuzzed, a line each.
if (args is ["targets"])
{
    Console.WriteLine(string.Join('\n', FuzzTargets.All.Select(t => t.Name)));
    return 0;
}

if (args.Length < 3 || FuzzTargets.All.FirstOrDefault(t => t.Name == args[0]) is not { } target || !Directory.Exists(args[1]) || !double.TryParse(args[2], System.Globalization.CultureInfo.InvariantCulture, out var seconds))
{
    Console.Error.WriteLine($"Usage: fuzz {string.Join('|', FuzzTargets.All.Select(t => t.Name))} FIXTURES SECONDS [SEED]");
    return 3;
}

var seed = args.Length > 3 ? int.Parse(args[3], System.Globalization.CultureInfo.InvariantCulture) : Environment.TickCount;
var corpus = target.Seeds(args[1]).ToList();
return FuzzRun.Run(corpus, target.Read, corpus.TrueForAll(JsonMutation.Is) ? Either : Mutation.Of, TimeSpan.FromSeconds(seconds), seed) ? 0 : 1;

// A document of text that is broken as bytes is hardly ever read; so most changes leave it whole.
static byte[] Either(byte[] seed, byte[] other, Random random) => random.Next(8) == 0 ? Mutation.Of(seed, other, random) : JsonMutation.Of(seed, other, random);
