namespace Lyrotrans.Formats.Tests;

/// <summary>Files that other software wrote, beside the project in shared/fixtures.</summary>
public static class Fixtures
{
    public static string Path(string name)
    {
        for (var folder = new DirectoryInfo(AppContext.BaseDirectory); folder is not null; folder = folder.Parent)
        {
            var candidate = System.IO.Path.Combine(folder.FullName, "shared", "fixtures", name);
            if (File.Exists(candidate))
            {
                return candidate;
            }
        }

        throw new FileNotFoundException($"The fixture {name} is not beside the project, in shared/fixtures.");
    }

    public static MemoryStream Open(string name) => new(File.ReadAllBytes(Path(name)));
}
