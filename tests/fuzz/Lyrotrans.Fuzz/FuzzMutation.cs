namespace Lyrotrans.Fuzz;

/// <summary>Changes a file by what it is: a document of text that is broken as bytes is hardly ever read, so most changes leave it whole.</summary>
internal static class FuzzMutation
{
    public static byte[] Of(byte[] seed, byte[] other, Random random) =>
        random.Next(8) != 0 && JsonMutation.Parse(seed) is { } root ? JsonMutation.Of(root, other, random) : Mutation.Of(seed, other, random);
}
