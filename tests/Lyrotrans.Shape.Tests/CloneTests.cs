using System.Text.RegularExpressions;

namespace Lyrotrans.Shape.Tests;

/// <summary>A clone is whole: nothing in it looks for anything beside it.</summary>
public partial class CloneTests
{
    private static readonly string[] s_folders = ["src", "demo", "bench", "tests"];
    private static readonly string[] s_kinds = [".cs", ".mjs", ".py", ".csproj", ".props", ""];

    [Fact]
    public void No_code_or_script_looks_beside_the_clone()
    {
        var files = s_folders.SelectMany(f => Directory.EnumerateFiles(Repository.Path(f), "*", SearchOption.AllDirectories))
            .Concat(Directory.EnumerateFiles(Repository.Root))
            .Where(f => s_kinds.Contains(Path.GetExtension(f)) && !new[] { "/obj/", "/bin/", "/lib/", "/node_modules/", "/fixtures/", nameof(CloneTests) }.Any(f.Contains)).ToList();
        Assert.True(files.Count > 500, $"{files.Count} files");
        var found = files.SelectMany(f => File.ReadLines(f).Where(l => Beside().IsMatch(l)).Select(l => $"{Path.GetRelativePath(Repository.Root, f)}: {l.Trim()}"));
        Assert.Empty(found);
    }

    // Up from the root by a variable that names it, or by a folder that only the workplace has.
    [GeneratedRegex("""(root\}?"?/\.\.|root, "\.\."|"shared", "|/shared/(fixtures|standards|design))""")]
    private static partial Regex Beside();
}
