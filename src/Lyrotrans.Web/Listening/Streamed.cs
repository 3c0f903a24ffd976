using Microsoft.AspNetCore.Http.Features;

namespace Lyrotrans.Web.Listening;

/// <summary>Sound that is made while it is sent, on a thread of its own.</summary>
public static class Streamed
{
    /// <param name="context">Of the request.</param>
    /// <param name="seat">Held as long as it is sent; null where none was free.</param>
    /// <param name="make">Writes it.</param>
    /// <param name="stop">Ends it.</param>
    public static IResult Made(HttpContext context, IDisposable? seat, Action<Stream> make, CancellationToken stop)
    {
        if (seat is null)
        {
            return Results.Problem("Too much is listened to at once. Stop something that plays, or wait until others have.", statusCode: StatusCodes.Status429TooManyRequests);
        }

        context.Response.RegisterForDispose(seat);

        // The engine writes as it goes; nothing else waits on this thread.
        context.Features.Get<IHttpBodyControlFeature>()!.AllowSynchronousIO = true;
        return Results.Stream(output => Task.Run(() => make(output), stop), "audio/wav");
    }
}
