using System.Net;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;

namespace Lyrotrans.Web.Tests.Hosting;

/// <summary>Stands for the network: a test says in a header where a request comes from, since nothing is between it and the server.</summary>
public sealed class AskedFrom : IStartupFilter
{
    public const string Header = "Test-Address";

    public Action<IApplicationBuilder> Configure(Action<IApplicationBuilder> next) => application =>
    {
        application.Use((context, rest) =>
        {
            context.Connection.RemoteIpAddress = IPAddress.TryParse(context.Request.Headers[Header], out var address) ? address : null;
            return rest(context);
        });
        next(application);
    };
}
