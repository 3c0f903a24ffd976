using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Proof;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Whether a package's manifest is signed, and by whom.</summary>
internal sealed class SignatureProof
{
    private readonly string? _problem;

    private SignatureProof(DetachedSignature? signature, string? problem) => (Signature, _problem) = (signature, problem);

    /// <summary>What lies in the package; null where nothing that can be read does.</summary>
    public DetachedSignature? Signature { get; }

    /// <summary>Reads a package's signature.</summary>
    /// <param name="path">Where it should lie.</param>
    public static SignatureProof Read(PackageReader package, string path)
    {
        try
        {
            return package.Has(path) ? Read(package.Read(path), path) : new SignatureProof(null, "missing");
        }
        catch (BadInputException problem)
        {
            return new SignatureProof(null, problem.Message);
        }
    }

    /// <summary>Reads a signature.</summary>
    /// <param name="bytes">As they lie there.</param>
    /// <param name="path">For errors.</param>
    public static SignatureProof Read(byte[] bytes, string path)
    {
        try
        {
            return new SignatureProof(DetachedSignature.FromJson(bytes, path), null);
        }
        catch (BadInputException problem)
        {
            return new SignatureProof(null, problem.Message);
        }
    }

    /// <summary>The row of it.</summary>
    /// <param name="manifest">The bytes of the manifest.</param>
    /// <param name="known">Keys that are known, and whose each is.</param>
    /// <param name="mustBeKnown">Whether an unknown signer is a fault.</param>
    public ProofRow Row(byte[] manifest, IReadOnlyDictionary<PublicKey, string> known, bool mustBeKnown)
    {
        const string Meant = "of the manifest";
        if (Signature is not { } signature)
        {
            return Made(Meant, _problem!, "not signed", false);
        }

        return !signature.IsOf(manifest) ? Made(Meant, $"of other bytes, or by another key than {signature.Key.Words}", "wrong", false)
            : known.TryGetValue(signature.Key, out var whose) ? Made(Meant, $"{whose}: {signature.Key.Words}", "0", true)
            : Made(mustBeKnown ? "by a known key" : Meant, $"by an unknown key: {signature.Key.Words}", mustBeKnown ? "another signer" : "stated", !mustBeKnown);
    }

    /// <summary>Whether its key is known.</summary>
    public bool IsKnown(IReadOnlyDictionary<PublicKey, string> known) => Signature is { } signature && known.ContainsKey(signature.Key);

    private static ProofRow Made(string meant, string found, string difference, bool passed) => new("Package", "signature", meant, found, difference, passed);
}
