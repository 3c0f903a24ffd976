using System.Diagnostics;
using System.Net;
using System.Net.Sockets;

namespace Lyrotrans.Testing;

/// <summary>A PostgreSQL server of its own, made for the tests of one assembly and taken away after them.</summary>
internal sealed class TestCluster : IDisposable
{
    private readonly int _port = FreePort();
    private readonly string _connection;
    private int _databases;

    public TestCluster()
    {
        // The server does not run as root, and must reach its folder.
        Process.Start("chmod", ["755", Folder])!.WaitForExit();
        _connection = Lyrotrans("start").Split('\n', StringSplitOptions.RemoveEmptyEntries)[^1];
    }

    /// <summary>A folder that lives as long as the server.</summary>
    public string Folder { get; } = Directory.CreateTempSubdirectory("lyro-tests-").FullName;

    /// <summary>The connection string of a database that does not exist yet.</summary>
    public string NewDatabase() => string.Join(';', _connection.Split(';').Where(p => !p.StartsWith("Database=", StringComparison.Ordinal))
        .Append($"Database=test_{Interlocked.Increment(ref _databases)}").Append("Include Error Detail=true"));

    public void Dispose()
    {
        Lyrotrans("stop");
        Directory.Delete(Folder, recursive: true);
    }

    private string Lyrotrans(string what)
    {
        var start = new ProcessStartInfo(Repository.Path("lyrotrans"), ["db", what]) { RedirectStandardOutput = true, RedirectStandardError = true };
        start.Environment["LYRO_DATA"] = Path.Combine(Folder, "data");
        start.Environment["LYRO_DB_PORT"] = _port.ToString(System.Globalization.CultureInfo.InvariantCulture);
        using var process = Process.Start(start)!;

        // The server keeps the pipes open that it was started with, so what is read is what was written until the script ended.
        var (output, errors) = (new List<string>(), new List<string>());
        process.OutputDataReceived += (_, line) => output.Add(line.Data ?? string.Empty);
        process.ErrorDataReceived += (_, line) => errors.Add(line.Data ?? string.Empty);
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        while (!process.HasExited)
        {
            Thread.Sleep(20);
        }

        Thread.Sleep(100);
        return process.ExitCode == 0 ? string.Join('\n', output) : throw new InvalidOperationException($"./lyrotrans db {what} failed: {string.Join('\n', errors)}");
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
