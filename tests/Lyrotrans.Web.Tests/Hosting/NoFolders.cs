namespace Lyrotrans.Web.Tests.Hosting;

/// <summary>Looks through every answer that any test gets: none says where the server keeps its files.</summary>
/// <param name="folders">That no answer may name.</param>
internal sealed class NoFolders(params string[] folders) : DelegatingHandler
{
    private const int MostBytes = 4 << 20;
    private static readonly string[] s_texts = ["text/", "application/json", "application/problem+json"];

    protected override async Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken cancellationToken)
    {
        var answer = await base.SendAsync(request, cancellationToken);
        if (s_texts.Any(t => answer.Content.Headers.ContentType?.MediaType?.StartsWith(t, StringComparison.Ordinal) == true) && answer.Content.Headers.ContentLength is null or < MostBytes)
        {
            await answer.Content.LoadIntoBufferAsync(cancellationToken);
            var said = await answer.Content.ReadAsStringAsync(cancellationToken);
            Assert.All(folders, f => Assert.False(said.Contains(f, StringComparison.Ordinal), $"{request.Method} {request.RequestUri} names {f}: {said}"));
        }

        return answer;
    }
}
