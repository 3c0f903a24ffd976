namespace Lyrotrans.Mutate;

/// <summary>What can be done to any file, whatever is in it.</summary>
internal static class ByteMutations
{
    public static IEnumerable<Mutation> Of(string path, byte[] bytes)
    {
        foreach (var place in Places(bytes.Length))
        {
            var where = $"byte {place}{(IsOfTheStamp(path, bytes, place) ? " of its stamp" : string.Empty)}";
            yield return Mutation.OfFile(path, $"{where}: bit 0 changed", b => Changed(b, place, 0x01));
            yield return Mutation.OfFile(path, $"{where}: bit 7 changed", b => Changed(b, place, 0x80));
        }

        yield return Mutation.OfFile(path, "a byte more at the end", b => [.. b, 0]);
        yield return Mutation.OfFile(path, "the last byte missing", b => b[..^1]);
        yield return Mutation.OfFile(path, "a byte more in the middle", b => [.. b[..(b.Length / 2)], 0x20, .. b[(b.Length / 2)..]]);
        yield return Mutation.OfFile(path, "two blocks changed over", b => [.. b[(b.Length / 2)..], .. b[..(b.Length / 2)]]);
        yield return Mutation.OfFile(path, "empty", _ => []);
        yield return new Mutation($"{Path.GetFileName(path)}: left out", p => p.Without(path).Settled().Zip());
        yield return new Mutation($"{Path.GetFileName(path)}: under another name", p => (p with { Files = [.. p.Files.Select(f => f.Path == path ? (path + "x", f.Bytes) : f)] }).Settled().Zip());
        yield return new Mutation($"{Path.GetFileName(path)}: twice", p => (p with { Files = [.. p.Files, p.Files.First(f => f.Path == path)] }).Settled().Zip());
    }

    // What the manifest says of the machine and the time.
    private static bool IsOfTheStamp(string path, byte[] bytes, int place) =>
        path.EndsWith(PackageParts.ManifestName, StringComparison.Ordinal) && place > bytes.AsSpan().IndexOf("\"made\""u8) && place < bytes.AsSpan().IndexOf("\"session\""u8);

    // The first, the last, and some between that are the same in every run.
    private static IEnumerable<int> Places(int length) => new[] { 0, length / 7, length / 3, length / 2, length * 5 / 7, length - 1 }.Distinct();

    private static byte[] Changed(byte[] bytes, int at, byte bits)
    {
        var copy = (byte[])bytes.Clone();
        copy[at] ^= bits;
        return copy;
    }
}
