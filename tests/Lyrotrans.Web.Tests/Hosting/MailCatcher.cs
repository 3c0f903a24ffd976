using System.Net;
using System.Net.Sockets;
using System.Text;

namespace Lyrotrans.Web.Tests.Hosting;

/// <summary>A mail server of a few words (RFC 5321): takes letters, or refuses whom they are for.</summary>
internal sealed class MailCatcher : IDisposable
{
    private readonly TcpListener _door = new(IPAddress.Loopback, 0);
    private readonly bool _refuses;
    private readonly List<string> _said = [];

    public MailCatcher(bool refuses)
    {
        _refuses = refuses;
        _door.Start();
        _ = ServeAsync();
    }

    /// <summary>Everything that clients said, a line each.</summary>
    public IReadOnlyList<string> Said
    {
        get
        {
            lock (_said)
            {
                return [.. _said];
            }
        }
    }

    public int Port => ((IPEndPoint)_door.LocalEndpoint).Port;

    public void Dispose() => _door.Dispose();

    private async Task ServeAsync()
    {
        try
        {
            while (true)
            {
                using var client = await _door.AcceptTcpClientAsync();
                await ConverseAsync(client.GetStream());
            }
        }
        catch (Exception problem) when (problem is SocketException or ObjectDisposedException)
        {
            // The test is over.
        }
    }

    private async Task ConverseAsync(NetworkStream stream)
    {
        using var reader = new StreamReader(stream, Encoding.Latin1, leaveOpen: true);
        await using var writer = new StreamWriter(stream, Encoding.ASCII, leaveOpen: true) { NewLine = "\r\n", AutoFlush = true };
        await writer.WriteLineAsync("220 catcher");
        var letter = false;
        while (await reader.ReadLineAsync() is { } line)
        {
            lock (_said)
            {
                _said.Add(line);
            }

            var answer = letter ? line == "." ? "250 taken" : null : line.Split(' ')[0] switch
            {
                "EHLO" => "250-catcher\r\n250 AUTH PLAIN",
                "AUTH" => "235 welcome",
                "RCPT" when _refuses => "550 nobody of that name",
                "DATA" => "354 go on",
                "QUIT" => "221 bye",
                _ => "250 good",
            };
            letter = (letter && line != ".") || line == "DATA";
            if (answer is not null)
            {
                await writer.WriteLineAsync(answer);
            }
        }
    }
}
