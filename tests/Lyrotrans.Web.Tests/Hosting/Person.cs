using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Lyrotrans.Storage.Model;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Tests.Hosting;

/// <summary>An engineer in a room of their own, who does over HTTP what the screens do.</summary>
public sealed partial class Person
{
    private readonly TestApplication _application;

    private readonly CookieContainer _cookies = new();

    private Person(TestApplication application) => (_application, Browser) = (application, application.Browser(_cookies));

    /// <summary>Everybody's, who opened a room here.</summary>
    public const string Password = "lantern orrery tarn-7";

    public HttpClient Browser { get; }

    /// <summary>What they sign in with.</summary>
    public string Email { get; private init; } = $"{Guid.NewGuid():N}@hall.example";

    /// <summary>Opens a room and signs in.</summary>
    public static async Task<Person> OpenRoomAsync(TestApplication application, string room, string? email = null)
    {
        var person = email is null ? new Person(application) : new Person(application) { Email = email };
        var answer = await person.PostPlainAsync("/open-a-room", new()
        {
            ["Room"] = room,
            ["EngineerName"] = $"Engineer of {room}",
            ["Email"] = person.Email,
            ["Password"] = Password,
        });
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return person;
    }

    /// <summary>Signs in with an account that is there already.</summary>
    public static async Task<Person> SignInAsync(TestApplication application, string email, string password)
    {
        var person = new Person(application) { Email = email };
        var answer = await person.PostPlainAsync("/sign-in", new() { ["Email"] = email, ["Password"] = password });
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return person;
    }

    /// <summary>Somebody who is not signed in.</summary>
    public static Person Stranger(TestApplication application, string email) => new(application) { Email = email };

    /// <summary>What their browser says to the server to be known.</summary>
    public string Cookies() => _cookies.GetCookieHeader(Browser.BaseAddress!);

    /// <summary>Begins a transfer.</summary>
    public async Task<Guid> BeginAsync(string name)
    {
        var answer = await PostPlainAsync("/", new() { ["Name"] = name });
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return Guid.Parse(answer.Headers.Location!.ToString().Split('/')[2]);
    }

    /// <summary>Uploads files as one batch and waits until they are in.</summary>
    public async Task BringInAsync(Guid transfer, params (string Name, byte[] Bytes)[] files)
    {
        var batch = await BatchAsync(transfer);
        foreach (var (name, bytes) in files)
        {
            await SendAsync(await BeginUploadAsync(batch, name, bytes.Length), 0, bytes);
        }

        var finish = await FinishAsync(batch);
        Assert.True(finish.IsSuccessStatusCode, await finish.Content.ReadAsStringAsync());
        var ended = await _application.EndedAsync(d => d.Batches.AsNoTracking().SingleAsync(b => b.Id == batch));
        Assert.True(ended.State == WorkState.Done, ended.Error);
    }

    public async Task<Guid> BatchAsync(Guid transfer)
    {
        var answer = await PostAsync($"/transfers/{transfer}/batches");
        return JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement.GetProperty("id").GetGuid();
    }

    /// <summary>Says that a batch has arrived.</summary>
    public Task<HttpResponseMessage> FinishAsync(Guid batch) => PostAsync($"/batches/{batch}/finish");

    /// <summary>Posts nothing but the token.</summary>
    public async Task<HttpResponseMessage> PostAsync(string path)
    {
        var ask = new HttpRequestMessage(HttpMethod.Post, path);
        ask.Headers.Add("X-Request-Token", await TokenAsync("/"));
        return await Browser.SendAsync(ask);
    }

    /// <summary>The address of an upload that has begun.</summary>
    public async Task<string> BeginUploadAsync(Guid batch, string name, long length)
    {
        var answer = await TryUploadAsync(batch, name, length);
        Assert.Equal(HttpStatusCode.Created, answer.StatusCode);
        return answer.Headers.Location!.ToString();
    }

    public Task<HttpResponseMessage> TryUploadAsync(Guid batch, string name, long length)
    {
        var create = new HttpRequestMessage(HttpMethod.Post, "/uploads");
        create.Headers.Add("Tus-Resumable", "1.0.0");
        create.Headers.Add("Upload-Length", $"{length}");
        create.Headers.Add("Upload-Metadata", $"name {Base64(name)},batch {Base64(batch.ToString())}");
        return Browser.SendAsync(create);
    }

    public Task<HttpResponseMessage> SendAsync(string upload, long offset, byte[] bytes) => SendAsync(upload, offset, new ByteArrayContent(bytes));

    /// <summary>Sends a piece of an upload from an offset on.</summary>
    public async Task<HttpResponseMessage> SendAsync(string upload, long offset, HttpContent content, string? checksum = null, CancellationToken stop = default)
    {
        var patch = new HttpRequestMessage(HttpMethod.Patch, upload) { Content = content };
        patch.Headers.Add("Tus-Resumable", "1.0.0");
        if (checksum is not null)
        {
            patch.Headers.Add("Upload-Checksum", checksum);
        }

        patch.Headers.Add("Upload-Offset", $"{offset}");
        patch.Content.Headers.ContentType = new MediaTypeHeaderValue("application/offset+octet-stream");
        return await Browser.SendAsync(patch, stop);
    }

    /// <summary>Builds what is in force and waits for the proof.</summary>
    public async Task<PackageBuild> BuildAsync(Guid transfer)
    {
        var answer = await PostAsync(transfer, "build", "Build");
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return await _application.EndedAsync(d => d.Builds.AsNoTracking().Where(b => b.TransferId == transfer).OrderByDescending(b => b.At).FirstAsync());
    }

    /// <summary>Sends a form to a handler of a stage, from the revision in force.</summary>
    public async Task<HttpResponseMessage> PostAsync(Guid transfer, string stage, string handler, params (string Name, string Value)[] fields)
    {
        var from = await _application.AskAsync(d => d.Transfers.Where(t => t.Id == transfer).Select(t => t.Current).SingleAsync());
        return await PostFromAsync(transfer, from, stage, handler, fields);
    }

    /// <summary>Sends a form to a handler of a stage, from any revision.</summary>
    public async Task<HttpResponseMessage> PostFromAsync(Guid transfer, int from, string stage, string handler, params (string Name, string Value)[] fields)
    {
        var form = new HttpRequestMessage(HttpMethod.Post, $"/transfers/{transfer}/{stage}?handler={handler}")
        {
            Content = new FormUrlEncodedContent([KeyValuePair.Create("from", $"{from}"), .. fields.Select(f => KeyValuePair.Create(f.Name, f.Value))]),
        };
        form.Headers.Add("X-Request-Token", await TokenAsync("/"));
        return await Browser.SendAsync(form);
    }

    public async Task<HttpResponseMessage> PostPlainAsync(string page, Dictionary<string, string> fields, string? tokenOf = null)
    {
        fields["__RequestVerificationToken"] = await TokenAsync(tokenOf ?? page);
        return await Browser.PostAsync(page, new FormUrlEncodedContent(fields));
    }

    public async Task<string> TokenAsync(string page) => Token().Match(await Browser.GetStringAsync(page)).Groups[1].Value;

    public async Task<JsonElement> SurveyAsync(Guid transfer) => JsonDocument.Parse(await Browser.GetStringAsync($"/transfers/{transfer}/survey.json")).RootElement;

    private static string Base64(string text) => Convert.ToBase64String(Encoding.UTF8.GetBytes(text));

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
