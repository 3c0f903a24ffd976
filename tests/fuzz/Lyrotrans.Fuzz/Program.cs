using System.Globalization;
using Lyrotrans.Fuzz;

// fuzz TARGET|all FIXTURES CORPUS SECONDS [SEED]: mutates good files, and what a reader broke on once, and reads them; a reader may refuse with a clear error, and nothing else. A line for each
// target, as TAP has them. fuzz targets: what can be fuzzed, a line each.
Coverage.Prepare();
if (args is ["targets"])
{
    Console.WriteLine(string.Join('\n', FuzzTargets.All.Select(t => t.Name)));
    return 0;
}

var targets = args.Length < 4 ? [] : FuzzTargets.All.Where(t => args[0] == "all" || t.Name == args[0]).ToList();
if (targets.Count == 0 || !Directory.Exists(args[1]) || !double.TryParse(args[3], CultureInfo.InvariantCulture, out var seconds))
{
    Console.Error.WriteLine($"Usage: fuzz all|{string.Join('|', FuzzTargets.All.Select(t => t.Name))} FIXTURES CORPUS SECONDS [SEED]");
    return 3;
}

var seed = args.Length > 4 ? int.Parse(args[4], CultureInfo.InvariantCulture) : Environment.TickCount;
var wrong = 0;
foreach (var (target, number) in targets.Select((t, i) => (t, i + 1)))
{
    var run = new FuzzRun(target, [.. target.Seeds(args[1]), .. Corpus(target)], seed);
    var holds = run.Run(TimeSpan.FromSeconds(seconds));
    Console.WriteLine($"{(holds ? "ok" : "not ok")} {number} - {target.Name}: {run.Said}");
    wrong += holds ? 0 : 1;
}

return wrong == 0 ? 0 : 1;

IEnumerable<byte[]> Corpus(FuzzTarget target) =>
    Path.Combine(args[2], target.Name) is var folder && Directory.Exists(folder) ? Directory.EnumerateFiles(folder).Order(StringComparer.Ordinal).Select(File.ReadAllBytes) : [];
