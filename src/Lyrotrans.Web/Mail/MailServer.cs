using System.Net.Sockets;
using MailKit;
using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;

namespace Lyrotrans.Web.Mail;

/// <summary>The mail server of the settings. What it does not take goes to the outbox.</summary>
public sealed class MailServer(Settings settings, Outbox outbox, ILogger<MailServer> log) : IMailer
{
    private static readonly TimeSpan s_patience = TimeSpan.FromSeconds(20);

    /// <inheritdoc/>
    public async Task SendAsync(MimeMessage letter)
    {
        try
        {
            await HandOverAsync(letter, settings.MailServer!);
        }
        catch (Exception problem) when (problem is ServiceNotConnectedException or ServiceNotAuthenticatedException or CommandException or ProtocolException
            or AuthenticationException or SslHandshakeException or SocketException or IOException or OperationCanceledException)
        {
            log.LogError(problem, "The mail server did not take a letter; it lies in the outbox");
            await outbox.SendAsync(letter);
        }
    }

    private static async Task HandOverAsync(MimeMessage letter, Uri server)
    {
        using var patience = new CancellationTokenSource(s_patience);
        using var client = new SmtpClient();
        var secure = server.Scheme == "smtps";
        await client.ConnectAsync(
            server.Host, server.Port > 0 ? server.Port : secure ? 465 : 25, secure ? SecureSocketOptions.SslOnConnect : SecureSocketOptions.StartTlsWhenAvailable, patience.Token);
        if (server.UserInfo.Split(':', 2) is [var user, var password])
        {
            await client.AuthenticateAsync(Uri.UnescapeDataString(user), Uri.UnescapeDataString(password), patience.Token);
        }

        await client.SendAsync(letter, patience.Token);
        await client.DisconnectAsync(true, patience.Token);
    }
}
