using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Lyrotrans.Web;

/// <summary>
/// Nothing is changed by a request that another site's page could send: a page of ours says its token, and an upload says the protocol's own header,
/// which a browser sends to another site only after asking. Razor Pages look at the token themselves.
/// </summary>
public sealed class OwnRequests(RequestDelegate next, IAntiforgery tokens)
{
    public async Task InvokeAsync(HttpContext context)
    {
        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { } limit && context.Request.ContentLength > limit.MaxRequestBodySize)
        {
            // Said before anything reads it: what is too long costs nothing and is not taken for a page that is out of date. Without the limit the server
            // throws away what still comes, for five seconds at most; with it the connection breaks under the one who sends, and the answer is lost.
            (context.Request.Body, context.Request.ContentLength, limit.MaxRequestBodySize) = (Stream.Null, 0, null);
            context.Response.StatusCode = StatusCodes.Status413PayloadTooLarge;
        }
        else if (!IsOwn(context) && !await tokens.IsRequestValidAsync(context))
        {
            context.Response.StatusCode = StatusCodes.Status400BadRequest;
        }
        else
        {
            await next(context);
        }
    }

    // What changes nothing is valid as it is.
    private static bool IsOwn(HttpContext context) =>
        context.GetEndpoint()?.Metadata.GetMetadata<PageActionDescriptor>() is not null || context.Request.Headers.ContainsKey(Endpoints.Tus.VersionHeader);
}
