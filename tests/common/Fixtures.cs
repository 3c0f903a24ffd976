namespace Lyrotrans.Testing;

/// <summary>Files that other software wrote, in tests/fixtures.</summary>
internal static class Fixtures
{
    /// <param name="name">Below tests/fixtures, parted by <c>/</c>.</param>
    public static string Path(string name) => Repository.Path("tests", "fixtures", name);

    /// <summary>All files of a folder that end so, by name.</summary>
    public static IEnumerable<string> Of(string folder, string extension) => Directory.EnumerateFiles(Path(folder), $"*{extension}").Order(StringComparer.Ordinal);

    public static MemoryStream Open(string name) => new(File.ReadAllBytes(Path(name)));
}
