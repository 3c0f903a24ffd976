namespace Lyrotrans.Formats.Preparations;

/// <summary>The sheets that come with the program, by kind of job.</summary>
public static class ShippedSheets
{
    private const string Place = "sheets/";

    /// <summary>All, in their order: each with its JSON as it can be copied and changed.</summary>
    public static IReadOnlyList<(ReceiverSheet Sheet, string Json)> All { get; } =
        [.. typeof(ShippedSheets).Assembly.GetManifestResourceNames().Where(n => n.StartsWith(Place, StringComparison.Ordinal)).Order(StringComparer.Ordinal).Select(Read)];

    private static (ReceiverSheet Sheet, string Json) Read(string name)
    {
        using var reader = new StreamReader(typeof(ShippedSheets).Assembly.GetManifestResourceStream(name)!);
        var json = reader.ReadToEnd();
        return (ReceiverSheet.Read(System.Text.Encoding.UTF8.GetBytes(json), name), json);
    }
}
