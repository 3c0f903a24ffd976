using System.Reflection;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Shape.Tests;

/// <summary>The codes of findings and refusals: each once, said in the docs as in the code, used, and never replaced by a look at a text.</summary>
public partial class CodesTests
{
    private static readonly string[] s_assemblies =
        ["Lyrotrans.Core", "Lyrotrans.Audio", "Lyrotrans.Formats", "Lyrotrans.Storage", "Lyrotrans.Workflow", "Lyrotrans.Web", "lyro"];

    [Fact]
    public void The_table_in_the_docs_is_that_of_the_code()
    {
        var table = File.ReadLines(Repository.Path("docs/codes.md")).Where(l => l.StartsWith("| `", StringComparison.Ordinal)).ToList();
        var codes = Codes().Select(c => $"| `{c.Code.Id}` | {c.Means} |").Order(StringComparer.Ordinal).ToList();
        Assert.Equal(string.Join('\n', codes), string.Join('\n', table));
    }

    [Fact]
    public void A_code_is_an_area_and_a_name_and_stands_in_one_place()
    {
        Assert.All(Codes(), c => Assert.Matches(Id(), c.Code.Id));
        Assert.Empty(Codes().GroupBy(c => c.Code.Id).Where(g => g.Count() > 1).Select(g => g.Key));
        Assert.Equal(Codes().Count(), Sources().Sum(s => Made().Count(s)));
    }

    [Fact]
    public void Every_code_is_used()
    {
        var source = string.Join('\n', Sources());
        Assert.All(Codes().Select(c => $"{c.Field.DeclaringType!.Name}.{c.Field.Name}"), n => Assert.Matches($@"\b{Regex.Escape(n)}\b", source));
    }

    [Fact]
    public void Nothing_is_told_by_the_words_of_a_text() =>
        Assert.Empty(Sources().SelectMany(s => Looks().Matches(s)).Select(m => m.Value));

    private static IEnumerable<(FieldInfo Field, FindingCode Code, string Means)> Codes() => s_assemblies.Select(Assembly.Load).SelectMany(assembly =>
    {
        var texts = XDocument.Load(Path.ChangeExtension(assembly.Location, ".xml")).Descendants("member").ToDictionary(m => m.Attribute("name")!.Value, m => m.Element("summary")?.Value.Trim());
        return assembly.GetTypes().SelectMany(t => t.GetFields(BindingFlags.Static | BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.DeclaredOnly)).Where(f => f.FieldType == typeof(FindingCode))
            .Select(f => (f, (FindingCode)f.GetValue(null)!, texts.GetValueOrDefault($"F:{f.DeclaringType!.FullName}.{f.Name}") ?? throw new InvalidOperationException($"{f.Name} has no summary.")));
    });

    private static IEnumerable<string> Sources() =>
        Directory.EnumerateFiles(Repository.Path("src"), "*.cs*", SearchOption.AllDirectories).Where(p => !p.Contains("/obj/", StringComparison.Ordinal) && !p.Contains("/bin/", StringComparison.Ordinal)).Select(File.ReadAllText);

    [GeneratedRegex("^[a-z]+\\.[a-z]+(-[a-z0-9]+)*$")]
    private static partial Regex Id();

    [GeneratedRegex("FindingCode \\w+ = new\\(")]
    private static partial Regex Made();

    [GeneratedRegex("\\b(Message|Problem|Remedy|[Ff]inding\\.Text|[Ee]rror\\.Text|f\\.Text)\\.(Contains|StartsWith|EndsWith|Replace|IndexOf|Split)\\(")]
    private static partial Regex Looks();
}
