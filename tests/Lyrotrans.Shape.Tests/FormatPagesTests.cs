using System.Text.RegularExpressions;
using Lyrotrans.Formats.Registry;

namespace Lyrotrans.Shape.Tests;

/// <summary>A page for each format, and code that names the section of it that a structure follows.</summary>
public partial class FormatPagesTests
{
    private static IEnumerable<(string File, string Page, int Section)> Citations() =>
        Directory.EnumerateFiles(Repository.Path("src"), "*.cs", SearchOption.AllDirectories).Where(p => !p.Contains("/obj/", StringComparison.Ordinal))
            .SelectMany(p => Citation().Matches(File.ReadAllText(p)).SelectMany(m => Number().Matches(m.Groups[2].Value).Select(n => (Path.GetFileName(p), m.Groups[1].Value, int.Parse(n.Value, System.Globalization.CultureInfo.InvariantCulture)))));

    [Fact]
    public void Every_section_that_code_names_is_there()
    {
        Assert.All(Citations(), c => Assert.Matches($@"(?m)^## {c.Section}\. ", File.ReadAllText(Repository.Path($"docs/formats/{c.Page}.md"))));
        Assert.True(Citations().Select(c => c.File).Distinct().Count() > 50);
    }

    [Fact]
    public void Every_section_about_a_structure_is_named_by_code()
    {
        var named = Citations().Select(c => $"{c.Page} {c.Section}").ToHashSet();
        foreach (var page in Directory.EnumerateFiles(Repository.Path("docs/formats"), "*.md").Where(p => Path.GetFileName(p) != "README.md"))
        {
            var sections = Section().Matches(File.ReadAllText(page)).Where(m => !m.Groups[2].Value.StartsWith("What ", StringComparison.Ordinal)).Select(m => $"{Path.GetFileNameWithoutExtension(page)} {m.Groups[1].Value}");
            Assert.All(sections, s => Assert.True(named.Contains(s), $"{s} is named by no code."));
        }
    }

    [Fact]
    public void Every_format_has_a_page() =>
        Assert.All(SessionFormats.All.Where(f => !f.IsWhole), f => Assert.True(File.Exists(Repository.Path($"docs/formats/{f.Id.ToLowerInvariant()}.md")), f.Id));

    [GeneratedRegex(@"docs/formats/([a-z-]+)\.md, sections? ([0-9, and]+)")]
    private static partial Regex Citation();

    [GeneratedRegex("[0-9]+")]
    private static partial Regex Number();

    [GeneratedRegex(@"(?m)^## ([0-9]+)\. (.+)$")]
    private static partial Regex Section();
}
