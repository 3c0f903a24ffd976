using System.Security.Cryptography;

namespace Lyrotrans.Files;

/// <summary>The SHA-256 of files, in lower-case hex.</summary>
public static class FileHash
{
    /// <summary>Of a local file, which is then safe on its disk.</summary>
    public static async Task<string> OfAsync(string path, CancellationToken stop)
    {
        await using var input = new FileStream(path, FileMode.Open, FileAccess.ReadWrite, FileShare.None, 1 << 20, FileOptions.Asynchronous | FileOptions.SequentialScan);
        var sha256 = Convert.ToHexStringLower(await SHA256.HashDataAsync(input, stop));
        input.Flush(flushToDisk: true);
        return sha256;
    }

    /// <summary>Whether a text can be one.</summary>
    public static bool Is(string text) => text.Length == 64 && text.All(char.IsAsciiHexDigitLower);
}
