using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Tests.Hosting;

namespace Lyrotrans.Web.Tests;

/// <summary>A package tells nobody the hash of a file that does not go along, nor enough of it to know the file by.</summary>
public sealed class PackageHashesTests(TestApplication application)
{
    public static TheoryData<string> Formats => [.. SessionFormats.OfClips.Select(f => f.Id)];

    [Theory]
    [MemberData(nameof(Formats))]
    public async Task No_document_of_a_package_has_a_hash_of_what_was_brought_in(string format)
    {
        var person = await application.AnybodyAsync();
        var transfer = await person.BeginAsync("Planetarium show");
        byte[][] sounds = [Sounds.Noise(81), Sounds.Noise(82)];
        await person.BringInAsync(transfer, ("bell.wav", sounds[0]), ("lamp.wav", sounds[1]));
        var kept = await person.PostAsync(transfer, "prepare", "Keep");
        Assert.True(kept.IsSuccessStatusCode, await kept.Content.ReadAsStringAsync());
        var chosen = await person.PostAsync(transfer, "prepare", "Options", ("clips.file", format));
        Assert.True(chosen.IsSuccessStatusCode, await chosen.Content.ReadAsStringAsync());
        var built = await person.BuildAsync(transfer);
        Assert.True(built.Passed, built.Verdict);
        using var zip = new ZipArchive(((PackageStore)application.Services.GetService(typeof(PackageStore))!).Package(built.Id)!.Open());
        Assert.Contains(zip.Entries, e => e.FullName.EndsWith(SessionFormats.Get(format).Extension, StringComparison.Ordinal));
        var delivered = zip.Entries.Select(e => Convert.ToHexStringLower(SHA256.HashData(BytesOf(e)))).ToHashSet();
        foreach (var entry in zip.Entries)
        {
            var bytes = BytesOf(entry);
            foreach (var hash in sounds.Select(s => Convert.ToHexStringLower(SHA256.HashData(s))).Where(h => !delivered.Contains(h)))
            {
                foreach (var form in new[] { Encoding.ASCII.GetBytes(hash[..8]), Encoding.ASCII.GetBytes(hash[..8].ToUpperInvariant()), Encoding.Unicode.GetBytes(hash[..8]), Convert.FromHexString(hash)[..8] })
                {
                    Assert.True(bytes.AsSpan().IndexOf(form) < 0, $"{entry.FullName} has a part of the hash of a file that stays here.");
                }
            }
        }
    }

    private static byte[] BytesOf(ZipArchiveEntry entry)
    {
        using var stream = entry.Open();
        using var bytes = new MemoryStream();
        stream.CopyTo(bytes);
        return bytes.ToArray();
    }
}
