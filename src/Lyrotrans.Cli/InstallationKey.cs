using Lyrotrans.Core.Errors;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Cli;

/// <summary>The keys of the command line: the installation's own, made when it is first needed, and those that are given.</summary>
internal static class InstallationKey
{
    private const string Own = "this installation's key";

    /// <summary>Where the installation's own lies: <c>LYRO_KEY</c>, else in the user's folder of settings.</summary>
    public static string Path => Environment.GetEnvironmentVariable("LYRO_KEY") is { Length: > 0 } said
        ? said
        : System.IO.Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.ApplicationData, Environment.SpecialFolderOption.DoNotVerify), "lyrotrans", "signing-key.pem");

    /// <summary>The key to sign with.</summary>
    /// <param name="file">A file with a private key; null for the installation's own.</param>
    /// <exception cref="BadInputException">It is no private key.</exception>
    public static SigningKey Get(string? file)
    {
        var path = file ?? Path;
        if (file is null && !File.Exists(path))
        {
            Make(path);
        }

        return SigningKey.FromPem(Text(path)) ?? throw NotOne(path, "It is no private key of Ed25519 in PEM.");
    }

    /// <summary>Keys that are known: the installation's own where there is one, and those that were given.</summary>
    /// <param name="given">Files with a public or private key, or fingerprints; a fingerprint is known where a package's key has it.</param>
    /// <param name="signer">The key that the package is signed with, to which a fingerprint may belong.</param>
    /// <exception cref="BadInputException">One is neither.</exception>
    public static IReadOnlyDictionary<PublicKey, string> Known(IEnumerable<string> given, PublicKey? signer)
    {
        var known = new Dictionary<PublicKey, string>();
        if (File.Exists(Path) && SigningKey.FromPem(Text(Path)) is { } own)
        {
            known[own.Public] = Own;
        }

        foreach (var name in given)
        {
            var fingerprint = name.Replace(" ", string.Empty, StringComparison.Ordinal).ToLowerInvariant();
            var key = fingerprint.Length == 64 && fingerprint.All(char.IsAsciiHexDigit) && !File.Exists(name)
                ? signer?.Fingerprint == fingerprint ? signer : null
                : PublicKey.FromPem(Text(name)) ?? SigningKey.FromPem(Text(name))?.Public ?? throw NotOne(name, "It is no key of Ed25519 in PEM, and no fingerprint.");
            if (key is not null)
            {
                known[key] = "a key that was given";
            }
        }

        return known;
    }

    private static string Text(string path) => File.Exists(path) ? File.ReadAllText(path) : throw NotOne(path, "There is no such key.");

    private static BadInputException NotOne(string path, string why) => new(PackageCodes.NoKey, path, string.Empty, why, "Give a file in PEM, as `lyro key` prints it.");

    // For its owner's eyes only; whole or not there, whoever else makes one at this moment.
    private static void Make(string path)
    {
        Directory.CreateDirectory(System.IO.Path.GetDirectoryName(System.IO.Path.GetFullPath(path))!);
        var part = $"{path}.{Guid.NewGuid():N}";
        var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
        {
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        }

        using (var writer = new StreamWriter(part, options))
        {
            writer.Write(SigningKey.New().ToPem());
        }

        try
        {
            File.Move(part, path, overwrite: false);
        }
        catch (IOException) when (File.Exists(path))
        {
            File.Delete(part);
        }
    }
}
