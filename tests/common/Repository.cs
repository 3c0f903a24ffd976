namespace Lyrotrans.Testing;

/// <summary>Places in the clone that the tests run in.</summary>
internal static class Repository
{
    /// <summary>The clone's own folder.</summary>
    public static string Root { get; } = Find();

    /// <param name="parts">Of a path below the root.</param>
    public static string Path(params string[] parts) => System.IO.Path.Combine([Root, .. parts]);

    private static string Find()
    {
        for (var at = new DirectoryInfo(AppContext.BaseDirectory); at is not null; at = at.Parent)
        {
            if (File.Exists(System.IO.Path.Combine(at.FullName, "Lyrotrans.slnx")))
            {
                return at.FullName;
            }
        }

        throw new InvalidOperationException("The tests lie outside the repository.");
    }
}
