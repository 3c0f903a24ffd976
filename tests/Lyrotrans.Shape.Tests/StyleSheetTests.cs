using System.Text.RegularExpressions;

namespace Lyrotrans.Shape.Tests;

/// <summary>The style sheet: what it asks for is there.</summary>
public partial class StyleSheetTests
{
    [Fact]
    public void Every_variable_that_is_used_is_said_by_the_sheet_or_set_by_a_script()
    {
        var files = Directory.EnumerateFiles(Repository.Path("src", "Lyrotrans.Web", "wwwroot"), "*.*", SearchOption.AllDirectories).Where(f => !f.Contains("/lib/", StringComparison.Ordinal) && Path.GetExtension(f) is ".css" or ".js").Select(File.ReadAllText).ToList();
        var said = files.SelectMany(f => Said().Matches(f).Select(m => m.Groups[1].Value)).ToHashSet();
        var used = files.SelectMany(f => Used().Matches(f).Select(m => m.Groups[1].Value)).Distinct().ToList();
        Assert.True(used.Count > 20);
        Assert.Empty(used.Except(said));
    }

    [GeneratedRegex(@"(--[a-z0-9-]+)[""']?\s*[:,]")]
    private static partial Regex Said();

    [GeneratedRegex(@"var\((--[a-z0-9-]+)")]
    private static partial Regex Used();
}
