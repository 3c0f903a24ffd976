using System.Text.RegularExpressions;

namespace Lyrotrans.Mutate;

/// <summary>What a proof does not see, and why it cannot: in a package that was made here only what that says of its maker.</summary>
internal static partial class Explained
{
    private static readonly (Regex What, string Why)[] s_anywhere = [(Machine(), "which machine it was is the package's own word; the report says it")];

    private static readonly (Regex What, string Why)[] s_foreign = [(Earlier(), "a package of an earlier form that was not made here is compared by what its files say; the verdict says it")];

    private static readonly (Regex What, string Why)[] s_otherMachine =
    [
        (CodedEnd(), "the sound is whole, by its samples and its own checksum; bytes at a coded file's end belong to none of them"),
        (CodedComment(), "the comment of a coded file says where it starts; the manifest and the document say it too, and are compared"),
        (Lossy(), "a lossy copy is another on every machine; it is held to its length and channels"),
    ];

    /// <summary>Why a mutation is not seen; null where it should be.</summary>
    public static string? Why(string mutation, bool otherMachine, bool foreign) => s_anywhere.Concat(otherMachine ? s_otherMachine : []).Concat(foreign ? s_foreign : []).Where(r => r.What.IsMatch(mutation)).Select(r => r.Why).FirstOrDefault();

    [GeneratedRegex("^manifest.json: (processor .*|libraries .*|byte \\d+ of its stamp: .*)$")]
    private static partial Regex Machine();

    [GeneratedRegex("^manifest.json: writer .*$")]
    private static partial Regex Earlier();

    [GeneratedRegex("^(audio|mix|stems)/.*\\.flac: (a byte more at the end|the last byte missing|byte \\d+: bit . changed)$")]
    private static partial Regex CodedEnd();

    [GeneratedRegex("^(audio|mix|stems)/.*\\.flac: it starts a frame later$")]
    private static partial Regex CodedComment();

    [GeneratedRegex("^listen/")]
    private static partial Regex Lossy();
}
