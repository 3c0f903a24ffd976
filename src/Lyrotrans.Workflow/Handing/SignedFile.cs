using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Handing;

/// <summary>A file and the signature that lies beside it.</summary>
/// <param name="Name">Of the file, as it lies here.</param>
/// <param name="Signature">What lies beside it.</param>
/// <param name="IsWhole">Whether the signature is of these very bytes.</param>
public sealed record SignedFile(string Name, DetachedSignature Signature, bool IsWhole)
{
    private const long Largest = 256L << 20;

    /// <param name="path">Of the file.</param>
    /// <param name="signature">Where its signature lies; null for beside it.</param>
    /// <exception cref="BadInputException">There is no such file, or no signature that can be read.</exception>
    public static SignedFile Read(string path, string? signature = null)
    {
        var beside = signature ?? (Path.GetFileName(path) == DetachedSignature.Manifest ? Path.ChangeExtension(path, ".sig") : HandoverReport.SignatureOf(path));
        var bytes = Bytes(path, "There is no such file.");
        var sign = DetachedSignature.FromJson(Bytes(beside, "There is no signature beside the file."), Path.GetFileName(beside));
        return new SignedFile(Path.GetFileName(path), sign, sign.IsOf(bytes));
    }

    /// <summary>What is found, in a sentence.</summary>
    /// <param name="whose">Whose key it is, where it is known.</param>
    public string Words(string? whose) => !IsWhole ? $"{Name} is not what was signed: a byte of it differs, or another key signed it than {Signature.Key.Words}."
        : $"{Name} is as it was signed{(Signature.Of == Name ? string.Empty : $", under the name {Signature.Of}")}, by {whose ?? "a key that nobody here knows"}: {Signature.Key.Words}.";

    private static byte[] Bytes(string path, string missing) => !File.Exists(path) ? throw new BadInputException(FileCodes.Missing, Path.GetFileName(path), string.Empty, missing, "Keep both files side by side, or say where the signature lies with --signature.")
        : new FileInfo(path).Length > Largest ? throw new BadInputException(FileCodes.TooLarge, Path.GetFileName(path), string.Empty, "It is larger than any report or manifest.", "Check what it is.")
        : File.ReadAllBytes(path);
}
