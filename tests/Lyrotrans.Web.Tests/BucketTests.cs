using System.IO.Compression;
using System.Net;
using System.Net.Http.Headers;
using System.Security.Cryptography;
using Lyrotrans.Web.Tests.Hosting;

namespace Lyrotrans.Web.Tests;

/// <summary>The whole way with media and packages that lie on no disk: nothing but the store's own interface is used.</summary>
public sealed class BucketTests(TestApplication application)
{
    [Fact]
    public async Task A_transfer_goes_from_intake_to_a_proved_package_without_a_folder_of_media()
    {
        using var bucket = application.InABucket();
        var person = await Person.OpenRoomAsync(bucket, "Quillfeather Hall");
        var transfer = await person.BeginAsync("Orrery Suite");
        await person.BringInAsync(transfer, ("horn.L.wav", Sounds.Noise(31)), ("horn.R.wav", Sounds.Noise(32)), ("bell.aif", Sounds.Noise(33)));
        var joined = await person.PostAsync(transfer, "intake", "Join", [.. await TracksAsync(person, transfer, "horn.L", "horn.R"), ("name", "horn")]);
        Assert.True(joined.IsSuccessStatusCode, await joined.Content.ReadAsStringAsync());
        var build = await person.BuildAsync(transfer);
        Assert.True(build.Passed, build.Error ?? build.Verdict);

        var package = await person.Browser.GetAsync($"/builds/{build.Id}/package");
        var bytes = await package.Content.ReadAsByteArrayAsync();
        Assert.Equal((build.ManifestSha256, build.Bytes), (ManifestSumOf(bytes), bytes.Length));
        Assert.Equal($"\"{build.ManifestSha256}\"", package.Headers.ETag!.Tag);
        var part = new HttpRequestMessage(HttpMethod.Get, $"/builds/{build.Id}/package") { Headers = { Range = new RangeHeaderValue(1000, 1999) } };
        var answer = await person.Browser.SendAsync(part);
        Assert.Equal(HttpStatusCode.PartialContent, answer.StatusCode);
        Assert.Equal(bytes[1000..2000], await answer.Content.ReadAsByteArrayAsync());

        Assert.Contains("rows", await person.Browser.GetStringAsync($"/builds/{build.Id}/proof"), StringComparison.Ordinal);
        Assert.Contains("horn", await person.Browser.GetStringAsync($"/transfers/{transfer}/levels/{build.Id}"), StringComparison.Ordinal);
        var survey = await person.SurveyAsync(transfer);
        var sha256 = survey.GetProperty("media")[0].GetProperty("sha").GetString();
        foreach (var address in new[] { $"/transfers/{transfer}/peaks/{sha256}/0", $"/transfers/{transfer}/samples/{sha256}?from=0&count=100", $"/transfers/{transfer}/listen?from=0" })
        {
            Assert.True((await person.Browser.GetByteArrayAsync(address)).Length > 44, address);
        }

        Assert.Contains(bucket.Objects!.All, n => n == $"packages/{build.Id:N}/{build.ManifestSha256}");
        Assert.DoesNotContain(Directory.EnumerateFiles(bucket.Folder!, "*", SearchOption.AllDirectories), f => !f.Contains("/keys/", StringComparison.Ordinal));
    }

    private static string ManifestSumOf(byte[] package)
    {
        using var zip = new ZipArchive(new MemoryStream(package));
        using var manifest = zip.Entries.Single(e => e.Name == "manifest.json").Open();
        return Convert.ToHexStringLower(SHA256.HashData(manifest));
    }

    private static async Task<IEnumerable<(string Name, string Value)>> TracksAsync(Person person, Guid transfer, params string[] names) =>
        (await person.SurveyAsync(transfer)).GetProperty("tracks").EnumerateArray().Where(t => names.Contains(t.GetProperty("name").GetString())).Select(t => ("tracks", t.GetProperty("id").GetString()!));
}
