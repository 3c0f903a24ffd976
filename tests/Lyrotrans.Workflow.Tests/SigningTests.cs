using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Who made a package, and that nobody else changed it since.</summary>
public sealed class SigningTests(DemoSession demo)
{
    // RFC 8032, section 7.1, tests 1 and 3.
    [Theory]
    [InlineData("9d61b19deffd5a60ba844af492ec2cc44449c5697b326919703bac031cae7f60", "d75a980182b10ab7d54bfed3c964073a0ee172f3daa62325af021a68f707511a", "", "e5564300c360ac729086e2cc806e828a84877f1eb8e5d974d873e065224901555fb8821590a33bacc61e39701cf9b46bd25bf5f0595bbe24655141438e7a100b")]
    [InlineData("c5aa8df43f9f837bedb7442f31dcb7b166d38535076f094b85ce3a2e0b4458f7", "fc51cd8e6218a1a38da47ed00230f0580816ed13ba3303ac5deb911548908025", "af82", "6291d657deec24024827e69c3abe01a30ce548a284743a445e3680d7db5ac3ac18ff9b538d16f290ae67f760984dc6594a7c15e9716ed28dc027beceea1ec40a")]
    public void Signatures_are_those_of_the_standard(string secret, string known, string message, string signature)
    {
        var key = new SigningKey(Convert.FromHexString(secret));
        var bytes = Convert.FromHexString(message);
        Assert.Equal(known, Convert.ToHexStringLower(key.Public.Key));
        Assert.Equal(signature, Convert.ToHexStringLower(key.Sign(bytes)));
        Assert.True(key.Public.Verifies(bytes, Convert.FromHexString(signature)));
        Assert.False(key.Public.Verifies([.. bytes, 0], Convert.FromHexString(signature)));
        Assert.False(SigningKey.New().Public.Verifies(bytes, Convert.FromHexString(signature)));
        Assert.False(key.Public.Verifies(bytes, []));
    }

    [Fact]
    public void Bytes_that_are_no_point_of_the_curve_are_a_key_that_signed_nothing()
    {
        var signature = DemoSession.Maker.Key.Sign("manifest"u8);
        Assert.All(Enumerable.Range(0, 256), i =>
        {
            var key = DemoSession.Maker.Key.Public.Key.ToArray();
            key[0] ^= (byte)i;
            Assert.Equal(i == 0, new PublicKey(key).Verifies("manifest"u8, signature));
        });
    }

    [Fact]
    public void A_package_signed_with_such_a_key_fails_in_words()
    {
        var plan = demo.Plan(p => p with { Tracks = p.Tracks.Select(c => c.TrackId == "piano" ? c : c with { Treatment = Core.Preparing.Treatment.HoldBack }).ToValueArray() });
        var zip = PackageTamper.With(demo.Build(plan), "manifest.sig", b => Encoding.UTF8.GetBytes(System.Text.RegularExpressions.Regex.Replace(Encoding.UTF8.GetString(b), "\"publicKey\": \"[0-9a-f]{64}\"", $"\"publicKey\": \"02{new string('0', 62)}\"")));
        Assert.False(demo.Prove(zip, plan).Passed);
    }

    [Fact]
    public void Keys_go_through_pem_and_what_is_none_is_null()
    {
        var key = SigningKey.New();
        Assert.Equal(key.Public, SigningKey.FromPem(key.ToPem())!.Public);
        Assert.Equal(key.Public, PublicKey.FromPem(key.Public.ToPem()));
        Assert.Equal(64, key.Public.Words.Replace(" ", string.Empty, StringComparison.Ordinal).Length);
        Assert.Null(SigningKey.FromPem(key.Public.ToPem()));
        Assert.Null(PublicKey.FromPem("no key at all"));
        Assert.Null(PublicKey.FromPem("-----BEGIN PUBLIC KEY-----\nAAAA\n-----END PUBLIC KEY-----\n"));
    }

    [Fact]
    public void A_wrong_or_missing_signature_fails_and_an_unknown_signer_is_said()
    {
        var plan = demo.Plan();
        var zip = demo.Build(plan);
        var stranger = SigningKey.New();
        string Foreign() => PackageTamper.With(zip, ".csv", b => b, stranger);
        Core.Proof.ProofReport Prove(string path, ProofTerms terms) => PackageProof.Prove(new DiskFile(path), "p.zip", plan, demo.Loaded.Media, _ => { }, CancellationToken.None, terms with { Unpacked = true });
        var known = ProofTerms.Own with { Known = DemoSession.Known };

        Assert.Contains(demo.Prove(zip, plan).Rows, r => r is { What: "signature", Passed: true } && r.Found.StartsWith("the tests' key", StringComparison.Ordinal));
        Assert.Contains(Prove(Foreign(), known with { MadeHere = true }).Rows, r => r is { What: "signature", Passed: false });
        var unknown = Prove(Foreign(), known);
        Assert.True(unknown.Passed, string.Join('\n', unknown.Rows.Where(r => !r.Passed)));
        Assert.Contains("own word: signer", unknown.Verdict);

        byte[] Other(byte[] signature) => DetachedSignature.Sign([1, 2, 3], DemoSession.Maker.Key).ToJson();
        foreach (var change in new Func<byte[], byte[]>[] { Other, b => [.. b, (byte)'\n'], b => b[..^9], _ => "{}"u8.ToArray() })
        {
            Assert.False(Prove(PackageTamper.With(zip, "manifest.sig", change), known).Passed);
        }
    }

    [Fact]
    public void What_was_made_here_is_signed_and_in_the_form_of_now()
    {
        var plan = demo.Plan();
        var zip = demo.Build(plan);
        static Func<byte[], byte[]> Says(string before, string after) => b => System.Text.Encoding.UTF8.GetBytes(System.Text.Encoding.UTF8.GetString(b).Replace(before, after, StringComparison.Ordinal));
        foreach (var (before, after) in new[] { ($"\"writer\": {Build.PackageStamp.WriterHere}", "\"writer\": 1"), ($"\"lyrotransPackage\": {Build.Manifest.Version}", "\"lyrotransPackage\": 3") })
        {
            Assert.False(demo.Prove(PackageTamper.With(zip, "manifest.json", Says(before, after)), plan).Passed, after);
        }
    }

    [Fact]
    public void Without_its_session_a_package_is_whole_and_signed_or_its_signer_unknown_and_never_proved()
    {
        var zip = demo.Build(demo.Plan());
        WholeReport Check(string path, bool known) => WholeCheck.Check(new DiskFile(path), "p.zip", known ? DemoSession.Known : new Dictionary<PublicKey, string>(), _ => { }, CancellationToken.None);
        Assert.StartsWith("Whole, signed by the tests' key: ", Check(zip, true).Verdict, StringComparison.Ordinal);
        Assert.StartsWith("Whole, signer unknown: ", Check(zip, false).Verdict, StringComparison.Ordinal);
        Assert.Null(Check(zip, false).Whose);

        // Good hashes do not help whoever has not the key.
        Assert.Equal("a stranger", WholeCheck.Check(new DiskFile(PackageTamper.With(zip, ".csv", b => [.. b, 1], SigningKey.New())), "p.zip", DemoSession.Known, _ => { }, CancellationToken.None).Whose ?? "a stranger");
        foreach (var (ending, change) in new (string, Func<byte[], byte[]>)[] { ("manifest.sig", b => DetachedSignature.Sign([1], DemoSession.Maker.Key).ToJson()), ("SHA256SUMS", b => [.. b, 1]), ("manifest.sig", _ => []) })
        {
            Assert.StartsWith("Not whole", Check(PackageTamper.With(zip, ending, change), true).Verdict, StringComparison.Ordinal);
        }
    }
}
