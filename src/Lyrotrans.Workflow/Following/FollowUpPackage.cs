using System.IO.Hashing;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Following;

/// <summary>The files that a follow-up is sent as: those of its package that are new or replaced, and its list.</summary>
/// <param name="Contents">All of them, as a zip has them.</param>
/// <param name="Own">The list, its signature and its text, by their SHA-256.</param>
public sealed record FollowUpPackage(PackageContents Contents, IReadOnlyDictionary<string, byte[]> Own)
{
    /// <param name="list">What is sent.</param>
    /// <param name="whole">The whole package.</param>
    /// <param name="key">Signs the list.</param>
    public static FollowUpPackage Of(FollowUp list, PackageContents whole, SigningKey key)
    {
        var folder = whole.Files[0].Path[..(whole.Files[0].Path.IndexOf('/', StringComparison.Ordinal) + 1)];
        var sent = list.Files.Where(FollowUp.IsSent).Select(f => f.Path).ToHashSet();
        var json = list.ToJson();
        var own = new (string Name, byte[] Bytes)[] { (FollowUp.TextName, Encoding.UTF8.GetBytes(list.ToText(folder))), (FollowUp.ListName, json), (FollowUp.SignatureName, DetachedSignature.Sign(json, key, FollowUp.ListName).ToJson()) };
        var packed = own.Select(o => new PackedFile(folder + o.Name, o.Bytes.Length, Convert.ToHexStringLower(SHA256.HashData(o.Bytes)), Crc32.HashToUInt32(o.Bytes), true)).ToList();
        return new FollowUpPackage(whole with { Files = [.. packed, .. whole.Files.Where(f => sent.Contains(f.Path))] }, packed.Zip(own).ToDictionary(p => p.First.Sha256, p => p.Second.Bytes));
    }
}
