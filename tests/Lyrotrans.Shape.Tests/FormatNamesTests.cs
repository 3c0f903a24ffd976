using System.Text.RegularExpressions;
using Lyrotrans.Formats.Registry;

namespace Lyrotrans.Shape.Tests;

/// <summary>What one format knows stays in its folder: no other code says its name.</summary>
public partial class FormatNamesTests
{
    private static readonly string[] s_code = ["*.cs", "*.cshtml", "*.js"];

    // Demo, data and prose may say whose files they are; generated code says what it was made of.
    private static IEnumerable<string> Sources() => s_code.SelectMany(p => Directory.EnumerateFiles(Repository.Path("src"), p, SearchOption.AllDirectories))
        .Where(f => !new[] { "/obj/", "/bin/", "/lib/", "/Migrations/" }.Any(f.Contains));

    private static string Relative(string file) => Path.GetRelativePath(Repository.Path("src"), file).Replace('\\', '/');

    [Fact]
    public void Each_format_is_named_in_its_folder_and_in_the_list_only()
    {
        var found = new List<string>();
        foreach (var format in SessionFormats.OfClips)
        {
            // A word of the name, or a name that begins or goes on with it, such as a type of that format.
            var word = new Regex($@"\b{format.Id}\b|(?<![a-z])(?i:{format.Id})(?=[A-Z]\w*\b)|\.(?i:{format.Id})\b");
            foreach (var file in Sources().Where(f => !Relative(f).StartsWith($"Lyrotrans.Formats/{Folder(format.Id)}/", StringComparison.Ordinal) && Relative(f) != "Lyrotrans.Formats/Registry/SessionFormats.cs"))
            {
                found.AddRange(File.ReadLines(file).Select((line, i) => (line, i)).Where(l => word.IsMatch(l.line)).Select(l => $"{Relative(file)}({l.i + 1}): {l.line.Trim()}"));
            }
        }

        Assert.True(found.Count == 0, string.Join('\n', found));
    }

    [Fact]
    public void Each_format_has_a_folder_and_the_list_is_where_it_is_said_to_be()
    {
        Assert.All(SessionFormats.OfClips, f => Assert.True(Directory.Exists(Repository.Path("src", "Lyrotrans.Formats", Folder(f.Id)))));
        Assert.True(Sources().Count() > 300);
    }

    private static string Folder(string id) => id[..1] + id[1..].ToLowerInvariant();
}
