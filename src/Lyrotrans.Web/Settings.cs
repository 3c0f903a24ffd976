namespace Lyrotrans.Web;

/// <summary>What the application is told by its surroundings.</summary>
/// <param name="Database">Connection string of its PostgreSQL.</param>
/// <param name="DataFolder">Media store, packages and keys lie below it.</param>
/// <param name="SeedDemo">Whether the demo is made when the database is new.</param>
/// <param name="DemoPassword">For the demo's account.</param>
public sealed record Settings(string Database, string DataFolder, bool SeedDemo, string? DemoPassword)
{
    public string StoreFolder => Path.Combine(DataFolder, "store");

    public string PackageFolder => Path.Combine(DataFolder, "packages");

    public static Settings FromEnvironment() => new(
        Environment.GetEnvironmentVariable("LYRO_DB") ?? throw new InvalidOperationException("LYRO_DB is not set; start the application with ./lyrotrans start."),
        Environment.GetEnvironmentVariable("LYRO_DATA") ?? throw new InvalidOperationException("LYRO_DATA is not set; start the application with ./lyrotrans start."),
        Environment.GetEnvironmentVariable("LYRO_DEMO") != "no",
        Environment.GetEnvironmentVariable("LYRO_DEMO_PASSWORD"));
}
