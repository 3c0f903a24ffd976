using System.Net;
using System.Reflection;
using System.Runtime.InteropServices;
using System.Text.RegularExpressions;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Pages;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.AspNetCore.Routing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Lyrotrans.Web.Tests;

/// <summary>
/// Two rooms on one server. One has everything; the other asks for it at every place there is, by ids and by hashes that it knows, and gets nothing:
/// not a sample, not a peak, not a level, and no word of whether it is there.
/// </summary>
public sealed partial class TwoRoomsTests(TestApplication application) : IAsyncLifetime
{
    private static readonly byte[] s_left = Sounds.Noise(1);
    private static readonly byte[] s_right = Sounds.Noise(2);
    private static readonly byte[] s_own = Sounds.Noise(3);
    private static readonly string[] s_hashes = [Sounds.Hash(s_left), Sounds.Hash(s_right)];

    private Person _owner = null!;
    private Person _other = null!;
    private Guid _transfer;
    private PackageBuild _build = null!;
    private Guid _openBatch;
    private string _openUpload = null!;

    // Every address there is: with the ids of the room that asks nothing is refused, so each stands here with what it is.
    private static readonly Dictionary<string, Access> s_addresses = new()
    {
        ["/"] = Access.OwnList,
        ["/alive"] = Access.Open,
        ["/problem"] = Access.Open,
        ["/sign-in"] = Access.Open,
        ["/sign-out"] = Access.Open,
        ["/open-a-room"] = Access.Open,
        ["/second-factor"] = Access.Open,
        ["/forgotten"] = Access.Open,
        ["/new-password"] = Access.Open,
        ["/account"] = Access.OwnList,
        ["/room-log"] = Access.OwnList,
        ["/sheets"] = Access.OwnList,
        ["/operator"] = Access.OwnList,
        ["/uploads"] = Access.ByBatch,
        ["/uploads/{id:guid}"] = Access.ById,
        ["/batches/{id:guid}/finish"] = Access.ById,
        ["/batches/{id:guid}/again"] = Access.ById,
        ["/batches/{id:guid}/stop"] = Access.ById,
        ["/builds/{id:guid}/listen"] = Access.ById,
        ["/builds/{id:guid}/rehearsal/listen"] = Access.ById,
        ["/builds/{id:guid}/outline"] = Access.ById,
        ["/builds/{id:guid}/places"] = Access.ById,
        ["/builds/{id:guid}/package"] = Access.ById,
        ["/builds/{id:guid}/proof"] = Access.ById,
        ["/builds/{id:guid}/report"] = Access.ById,
        ["/transfers/{id:guid}/batches"] = Access.ById,
        ["/transfers/{id:guid}/notes/{track}"] = Access.ById,
        ["/transfers/{id:guid}/archive"] = Access.ById,
        ["/transfers/{id:guid}/originals"] = Access.ById,
        ["/transfers/{id:guid}/one"] = Access.ById,
        ["/transfers/{id:guid}/listen"] = Access.ById,
        ["/transfers/{id:guid}/media/{sha256}/listen"] = Access.ById,
        ["/transfers/{id:guid}/picture/{sha256}/still"] = Access.ById,
        ["/transfers/{id:guid}/picture/file"] = Access.ById,
        ["/transfers/{id:guid}/routing"] = Access.ById,
        ["/transfers/{id:guid}/markers.csv"] = Access.ById,
        ["/transfers/{id:guid}/settings.csv"] = Access.ById,
        ["/transfers/{id:guid}/settings"] = Access.ById,
        ["/transfers/{id:guid}/revisions"] = Access.ById,
        ["/transfers/{id:guid}/newer"] = Access.ById,
        ["/transfers/{id:guid}/peaks/{sha256}/{level:int}"] = Access.ById,
        ["/transfers/{id:guid}/position"] = Access.ById,
        ["/transfers/{id:guid}/samples/{sha256}"] = Access.ById,
        ["/transfers/{id:guid}/survey.json"] = Access.ById,
        ["/transfers/{id:guid}/takes.json"] = Access.ById,
        ["/transfers/{id:guid}/intake"] = Access.ById,
        ["/transfers/{id:guid}/survey"] = Access.ById,
        ["/transfers/{id:guid}/prepare"] = Access.ById,
        ["/transfers/{id:guid}/build"] = Access.ById,
        ["/transfers/{id:guid}/proof/{build:guid?}"] = Access.ById,
        ["/transfers/{id:guid}/levels/{build:guid?}"] = Access.ById,
        ["/transfers/{id:guid}/handover"] = Access.ById,
        ["/transfers/{id:guid}/round/{build:guid?}"] = Access.ById,
        ["/transfers/{id:guid}/rehearse/{build:guid?}"] = Access.ById,
        ["/r/{token}"] = Access.ByLink,
        ["/r/{token}/package"] = Access.ByLink,
        ["/r/{token}/files/{number:int}"] = Access.ByLink,
        ["/r/{token}/files/{number:int}/listen"] = Access.ByLink,
        ["/r/{token}/files/{number:int}/outline"] = Access.ByLink,
        ["/r/{token}/sums.json"] = Access.ByLink,
        ["/r/{token}/sheet"] = Access.ByLink,
        ["/r/{token}/returns"] = Access.ByLink,
        ["/r/{token}/returns/{id:guid}"] = Access.ByLink,
    };

    private enum Access
    {
        Open,
        OwnList,
        ByBatch,
        ById,
        ByLink,
    }

    public async ValueTask InitializeAsync()
    {
        _owner = await Person.OpenRoomAsync(application, "Quillfeather Hall");
        _other = await Person.OpenRoomAsync(application, "Tarn Lane");
        _transfer = await _owner.BeginAsync("Secret suite");
        await _owner.BringInAsync(_transfer, ("horn.L.wav", s_left), ("horn.R.wav", s_right));
        _build = await _owner.BuildAsync(_transfer);
        Assert.True(_build.Passed, _build.Error ?? _build.Verdict);
        _openBatch = await _owner.BatchAsync(_transfer);
        _openUpload = await _owner.BeginUploadAsync(_openBatch, "late.wav", s_own.Length);
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private List<RouteEndpoint> Endpoints() => [.. application.Services.GetServices<EndpointDataSource>().SelectMany(s => s.Endpoints).OfType<RouteEndpoint>()];

    private static string Pattern(RouteEndpoint endpoint) => "/" + endpoint.RoutePattern.RawText!.Trim('/');

    [Fact]
    public void Every_address_is_known_here() =>
        Assert.Equal(s_addresses.Keys.Order(StringComparer.Ordinal), Endpoints().Select(Pattern).Distinct().Order(StringComparer.Ordinal));

    [Fact]
    public async Task What_is_another_room_s_is_not_there_by_any_id()
    {
        var asked = 0;
        foreach (var endpoint in Endpoints().Where(e => s_addresses[Pattern(e)] == Access.ById))
        {
            var id = Pattern(endpoint).Split('/')[1] switch { "uploads" => Guid.Parse(_openUpload.Split('/')[^1]), "batches" => _openBatch, "builds" => _build.Id, _ => _transfer };
            var path = Ids().Replace(Pattern(endpoint), m => m.Groups[1].Value switch { "id" => id.ToString(), "build" => _build.Id.ToString(), "sha256" => s_hashes[0], "track" => "a-track", _ => "0" });
            var methods = endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? ["GET"];
            foreach (var method in methods)
            {
                var query = Pattern(endpoint) switch
                {
                    var p when p.EndsWith("position", StringComparison.Ordinal) => "?kind=samples&text=1",
                    var p when p.EndsWith("newer", StringComparison.Ordinal) => "?from=1",
                    var p when p.Contains("/notes/", StringComparison.Ordinal) => "?from=0",
                    var p when p.EndsWith("/samples/{sha256}", StringComparison.Ordinal) => "?from=0&count=10",
                    var p when p.StartsWith("/builds", StringComparison.Ordinal) && (p.EndsWith("listen", StringComparison.Ordinal) || p.EndsWith("outline", StringComparison.Ordinal) || p.EndsWith("places", StringComparison.Ordinal)) => "?path=x&track=a-track",
                    var p when p.EndsWith("listen", StringComparison.Ordinal) => "?from=0",
                    var p when p.EndsWith("/one", StringComparison.Ordinal) => "?track=a-track&as=printed",
                    var p when p.EndsWith("still", StringComparison.Ordinal) => "?frame=0",
                    _ => string.Empty,
                };
                var request = new HttpRequestMessage(new HttpMethod(method), path + query);
                request.Headers.Add("Tus-Resumable", "1.0.0");
                if (method == "PATCH")
                {
                    request.Content = new ByteArrayContent(s_own);
                    request.Content.Headers.ContentType = new("application/offset+octet-stream");
                    request.Headers.Add("Upload-Offset", "0");
                }

                Assert.True((await _other.Browser.SendAsync(request)).StatusCode == HttpStatusCode.NotFound, $"{method} {path} is there for another room.");
                asked++;
            }
        }

        Assert.True(asked >= 20);
        Assert.Equal(WorkState.Receiving, (await application.AskAsync(d => d.Batches.SingleAsync(b => b.Id == _openBatch))).State);
    }

    [Fact]
    public async Task No_handler_of_a_stage_answers_another_room()
    {
        var token = await _other.TokenAsync("/");
        var asked = 0;
        foreach (var page in typeof(DeskPage).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(DeskPage)) && !t.IsAbstract))
        {
            var stage = page.Name.Replace("PageModel", string.Empty, StringComparison.Ordinal).Replace("Model", string.Empty, StringComparison.Ordinal).ToLowerInvariant();
            foreach (var handler in page.GetMethods(BindingFlags.Public | BindingFlags.Instance).Select(m => Handlers().Match(m.Name)).Where(m => m.Success))
            {
                var request = new HttpRequestMessage(new HttpMethod(handler.Groups[1].Value.ToUpperInvariant()), $"/transfers/{_transfer}/{stage}?handler={handler.Groups[2].Value}");
                request.Headers.Add("X-Request-Token", token);
                request.Content = request.Method == HttpMethod.Post ? new FormUrlEncodedContent([KeyValuePair.Create("from", "1")]) : null;
                var answer = await _other.Browser.SendAsync(request);
                Assert.True(answer.StatusCode == HttpStatusCode.NotFound, $"{request.Method} {stage}?handler={handler.Groups[2].Value}: {answer.StatusCode}");
                asked++;
            }
        }

        Assert.True(asked >= 30);
        Assert.Equal(1, await application.AskAsync(d => d.Revisions.CountAsync(r => r.TransferId == _transfer)));
    }

    [Fact]
    public async Task Its_transfers_are_in_nobody_else_s_list_and_its_batches_take_nobody_else_s_files()
    {
        Assert.DoesNotContain("Secret suite", await _other.Browser.GetStringAsync("/"), StringComparison.Ordinal);
        Assert.Contains("Secret suite", await _owner.Browser.GetStringAsync("/"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await _other.TryUploadAsync(_openBatch, "x.wav", 10)).StatusCode);
    }

    [Fact]
    public async Task Nobody_who_is_not_signed_in_sees_anything()
    {
        using var stranger = application.Browser();
        foreach (var endpoint in Endpoints().Where(e => s_addresses[Pattern(e)] is not (Access.Open or Access.ByLink)))
        {
            var path = Ids().Replace(Pattern(endpoint), m => m.Groups[1].Value switch { "id" => _transfer.ToString(), "build" => _build.Id.ToString(), "sha256" => s_hashes[0], _ => "0" });
            foreach (var method in endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? ["GET"])
            {
                var answer = await stranger.SendAsync(new HttpRequestMessage(new HttpMethod(method), path));
                Assert.True(answer.StatusCode == HttpStatusCode.Redirect && answer.Headers.Location!.ToString().Contains("/sign-in", StringComparison.Ordinal), $"{method} {path}: {answer.StatusCode}");
            }
        }
    }

    [Fact]
    public async Task Without_a_link_nothing_is_there_that_links_open()
    {
        using var stranger = application.Browser();
        foreach (var endpoint in Endpoints().Where(e => s_addresses[Pattern(e)] == Access.ByLink))
        {
            var path = Ids().Replace(Pattern(endpoint), m => m.Groups[1].Value switch { "token" => new string('B', 43), "id" => _build.Id.ToString(), _ => "0" });
            foreach (var method in endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? ["GET"])
            {
                var request = new HttpRequestMessage(new HttpMethod(method), path) { Content = method == "PATCH" ? new ByteArrayContent(s_own) : null };
                request.Headers.Add("Tus-Resumable", "1.0.0");
                request.Headers.Add("Upload-Offset", "0");
                if (request.Content is { } content)
                {
                    content.Headers.ContentType = new("application/offset+octet-stream");
                }

                Assert.Equal(HttpStatusCode.NotFound, (await stranger.SendAsync(request)).StatusCode);
            }
        }
    }

    [Fact]
    public async Task A_document_that_names_another_room_s_hashes_gets_no_sound_of_it_anywhere()
    {
        var heard = await ThievingAsync([("left", s_hashes[0]), ("right", s_hashes[1])]);

        // The same with hashes that nobody has: what a room learns must be the same to the byte.
        var unknown = await ThievingAsync([("left", new string('a', 64)), ("right", new string('b', 64))]);
        Assert.Equal(unknown, heard);
    }

    /// <summary>Everything that a session with these media shows, said and sounds, in words that can be compared.</summary>
    private async Task<List<string>> ThievingAsync((string Name, string Sha256)[] files)
    {
        var told = new List<string>();
        var transfer = await _other.BeginAsync("Orrery Suite");
        await _other.BringInAsync(transfer, ("Orrery.session.json", Sounds.Naming(files)), ("own.wav", s_own));
        foreach (var (name, sha256) in files)
        {
            Assert.Equal(HttpStatusCode.NotFound, (await _other.Browser.GetAsync($"/transfers/{transfer}/peaks/{sha256}/0")).StatusCode);
            Assert.Equal(HttpStatusCode.NotFound, (await _other.Browser.GetAsync($"/transfers/{transfer}/samples/{sha256}?from=0&count=100")).StatusCode);
            var alone = await _other.Browser.GetByteArrayAsync($"/transfers/{transfer}/listen?from=0&track={name}");

            // Silence, with the dither of a listening stream.
            Assert.All(MemoryMarshal.Cast<byte, short>(alone.AsSpan(44)).ToArray(), s => Assert.InRange(s, -1, 1));
        }

        var survey = await _other.SurveyAsync(transfer);
        Assert.Equal([true, true, false], survey.GetProperty("media").EnumerateArray().Select(m => m.GetProperty("missing").GetBoolean()));
        told.Add(survey.GetProperty("flags").ToString());
        told.Add(Convert.ToHexString(await _other.Browser.GetByteArrayAsync($"/transfers/{transfer}/listen?from=0")));
        foreach (var stage in new[] { "intake", "survey", "prepare", "build", "levels" })
        {
            told.Add(Neutral(await _other.Browser.GetStringAsync($"/transfers/{transfer}/{stage}"), transfer, files));
        }

        var joined = await _other.PostAsync(transfer, "intake", "Join", ("tracks", "left"), ("tracks", "right"), ("name", "both"));
        Assert.Equal(HttpStatusCode.BadRequest, joined.StatusCode);
        told.Add(await joined.Content.ReadAsStringAsync());
        var build = await _other.BuildAsync(transfer);
        told.Add($"{build.State} {build.Passed} {build.Verdict} {build.Error} {build.Bytes}");
        if (build.State == WorkState.Done)
        {
            var package = await _other.Browser.GetByteArrayAsync($"/builds/{build.Id}/package");
            Assert.All(new[] { s_left, s_right }, sound => Assert.Equal(-1, package.AsSpan().IndexOf(sound.AsSpan(2000, 400))));
            Assert.NotEqual(-1, package.AsSpan().IndexOf(Shifted(s_own)));

            // Rows come in the order in which the work ended.
            told.Add(string.Join('\n', Neutral(await _other.Browser.GetStringAsync($"/builds/{build.Id}/proof"), transfer, files).Split('{').Order(StringComparer.Ordinal)));
        }

        return told;
    }

    // What a 16 bit sound is in the 24 bits of a print.
    private static byte[] Shifted(byte[] wave) => [.. wave.Skip(2000).Take(400).Chunk(2).SelectMany(s => new byte[] { 0, s[0], s[1] })];

    // Ids, hashes, tokens and times differ for reasons of their own.
    private static string Neutral(string text, Guid transfer, (string Name, string Sha256)[] files)
    {
        foreach (var (name, sha256) in files)
        {
            text = text.Replace(sha256, name, StringComparison.Ordinal).Replace(sha256[..12], name, StringComparison.Ordinal);
        }

        return Changing().Replace(text.Replace(transfer.ToString(), "transfer", StringComparison.Ordinal), "…");
    }

    [GeneratedRegex(@"\{(\w+)(:\w+)?\??\}")]
    private static partial Regex Ids();

    [GeneratedRegex("^On(Get|Post)(.*?)(Async)?$")]
    private static partial Regex Handlers();

    [GeneratedRegex("\\d\\d:\\d\\d UTC|\\d\\d:\\d\\d:\\d\\d \\S{1,12}:00|\\d{4}-\\d\\d-\\d\\dT[\\d:.+]+|CfDJ8[\\w-]+|[0-9a-f]{64}|[0-9a-f]{16,20}|[\\d.,]+ (GB|MB|GiB|MiB|KiB|kB) free|v=[\\w-]+")]
    private static partial Regex Changing();
}
