using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using Lyrotrans.Mutate;
using Lyrotrans.Workflow.Signing;

// mutate all|COUNT [SEED [ONLY]]: alters packages in every way that is known here, or in so many of them, with all hashes made good and signed again, and
// proves each; a proof that passes is a failure. Once more with a stamp of another machine, where what was computed is compared by what it says, and once signed with a key that nobody knows. ONLY takes one of these runs, by its number. A line for each package, as TAP has them.
if (args.Length == 0 || (args[0] != "all" && !int.TryParse(args[0], CultureInfo.InvariantCulture, out _)))
{
    Console.Error.WriteLine("Usage: mutate all|COUNT [SEED [ONLY]]");
    return 3;
}

using var bench = new Bench();
var seed = args.Length > 1 ? int.Parse(args[1], CultureInfo.InvariantCulture) : 1;
var (number, wrong) = (0, 0);
foreach (var (name, choose) in Bench.Packages)
{
    var plan = bench.Plan(choose);
    var own = bench.Build(plan);
    foreach (var (how, parts) in new[] { ("every byte", own), ("of another machine", own.OfAnotherMachine()), ("by a foreign key", own.SignedBy(SigningKey.New())) })
    {
        number++;
        if (args.Length > 2 && args[2] != $"{number}")
        {
            continue;
        }

        var foreign = how == "by a foreign key";
        var since = Stopwatch.GetTimestamp();
        var escaped = new ConcurrentBag<string>();
        var whole = parts.Zip();
        if (bench.Sees(whole, plan, foreign))
        {
            escaped.Add("nothing altered: it does not pass");
        }

        var mutations = bench.Mutations(parts, choose).ToList();
        var chosen = args[0] == "all" ? mutations : [.. new Random(seed).GetItems(mutations.ToArray(), int.Parse(args[0], CultureInfo.InvariantCulture)).Distinct()];
        Parallel.ForEach(chosen, new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount }, mutation =>
        {
            // Hashes that were made good may have put back what was changed.
            var altered = mutation.Change(parts);
            try
            {
                if (!altered.AsSpan().SequenceEqual(whole) && !bench.Sees(altered, plan, foreign) && Explained.Why(mutation.Name, how == "of another machine", foreign) is null)
                {
                    escaped.Add(mutation.Name);
                }
            }
            catch (Exception problem)
            {
                // A proof that breaks has seen nothing.
                escaped.Add($"{mutation.Name}: {problem}");
            }
        });
        wrong += escaped.IsEmpty ? 0 : 1;
        Console.WriteLine($"{(escaped.IsEmpty ? "ok" : "not ok")} {number} - {name}, {how}: {chosen.Count} of {mutations.Count} altered packages, {escaped.Count} not seen, in {Stopwatch.GetElapsedTime(since).TotalSeconds:0} s");
        foreach (var one in escaped.Order(StringComparer.Ordinal))
        {
            Console.WriteLine($"  # {one}");
        }
    }
}

return wrong == 0 ? 0 : 1;
