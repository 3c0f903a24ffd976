namespace Lyrotrans.Mutate;

/// <summary>One way to alter a package.</summary>
/// <param name="Name">What is altered, and how.</param>
/// <param name="Change">Gives the altered package as bytes of a zip.</param>
internal sealed record Mutation(string Name, Func<PackageParts, byte[]> Change)
{
    /// <summary>Alters the bytes of one file; hashes are made good.</summary>
    public static Mutation OfFile(string path, string how, Func<byte[], byte[]> change) =>
        new($"{path[(path.IndexOf('/', StringComparison.Ordinal) + 1)..]}: {how}", p => p.With(path, change(p.Files.First(f => f.Path == path).Bytes)).Settled().Zip());
}
