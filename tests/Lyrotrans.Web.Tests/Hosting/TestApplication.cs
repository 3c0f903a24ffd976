using System.Formats.Tar;
using System.IO.Compression;
using System.Net;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Core.Storing;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.Mvc.Testing.Handlers;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

[assembly: AssemblyFixture(typeof(Lyrotrans.Web.Tests.Hosting.TestApplication))]

namespace Lyrotrans.Web.Tests.Hosting;

/// <summary>The whole application on a real database and a folder of its own, without the demo.</summary>
public sealed class TestApplication : IDisposable
{
    private static readonly TimeSpan s_patience = TimeSpan.FromMinutes(1);
    private static readonly Lock s_environment = new();
    private static int s_older;
    private readonly TestCluster _cluster;
    private readonly bool _ownsCluster;
    private Lazy<Task<Person>>? _anybody;
    private readonly WebApplicationFactory<Program> _application;

    public TestApplication()
    {
        (_cluster, _ownsCluster) = (new TestCluster(), true);
        Folder = Path.Combine(_cluster.Folder, "application");
        _application = Start(_cluster.NewDatabase(), Folder);
    }

    private TestApplication(TestCluster cluster)
    {
        _cluster = cluster;
        Folder = Path.Combine(cluster.Folder, $"bucket-{Interlocked.Increment(ref s_older)}");
        Objects = new MemoryObjects(Path.Combine(Folder, "store", "scratch"));
        _application = Start(cluster.NewDatabase(), Folder, Objects);
    }

    private TestApplication(TestCluster cluster, IReadOnlyDictionary<string, string> settings, bool onALine)
    {
        _cluster = cluster;
        Folder = Path.Combine(cluster.Folder, $"set-{Interlocked.Increment(ref s_older)}");
        _application = Start(cluster.NewDatabase(), Folder, settings: settings, onALine: onALine);
    }

    private TestApplication(TestCluster cluster, string archive)
    {
        _cluster = cluster;
        var (folder, database) = (Path.Combine(cluster.Folder, $"older-{Interlocked.Increment(ref s_older)}"), cluster.NewDatabase());
        Folder = folder;
        Directory.CreateDirectory(folder);
        using (var packed = new GZipStream(File.OpenRead(archive), CompressionMode.Decompress))
        {
            TarFile.ExtractToDirectory(packed, folder, overwriteFiles: false);
        }

        Run(new NpgsqlConnectionStringBuilder(database) { Database = "postgres" }.ToString(), $"CREATE DATABASE {new NpgsqlConnectionStringBuilder(database).Database}");
        Run(database, File.ReadAllText(Path.Combine(folder, "database.sql")));
        _application = Start(database, folder);
    }

    /// <summary>Somebody for tests that need no room of their own; signing in is limited to so many times a minute.</summary>
    public Task<Person> AnybodyAsync() => (_anybody ??= new Lazy<Task<Person>>(() => Person.OpenRoomAsync(this, "Lantern Street"))).Value;

    public IServiceProvider Services => _application.Services;

    /// <summary>Where a store that is no folder keeps its files.</summary>
    public MemoryObjects? Objects { get; }

    /// <summary>Its data folder.</summary>
    public string Folder { get; }

    /// <summary>The application with a store that is no folder, on a database of its own.</summary>
    public TestApplication InABucket() => new(_cluster);

    /// <summary>The application with settings of its own, on a database of its own.</summary>
    /// <param name="settings">By the names of the environment.</param>
    /// <param name="onALine">Whether browsers reach it over real connections, not in memory.</param>
    public TestApplication With(IReadOnlyDictionary<string, string> settings, bool onALine = false) => new(_cluster, settings, onALine);

    /// <summary>The application of today on the database and folder that an earlier one left.</summary>
    public TestApplication OnOlderData(string archive) => new(_cluster, archive);

    /// <summary>Somebody's browser at an address of its own, with cookies of its own, that follows no redirection.</summary>
    public HttpClient Browser(CookieContainer? cookies = null)
    {
        var browser = _application.CreateDefaultClient(_application.ClientOptions.BaseAddress, new NoFolders(_cluster.Folder, AppContext.BaseDirectory, "/tmp/", "/usr/"), new CookieContainerHandler(cookies ?? new CookieContainer()));
        browser.DefaultRequestHeaders.Add(AskedFrom.Header, $"10.1.{Random.Shared.Next(256)}.{Random.Shared.Next(256)}");
        return browser;
    }

    /// <summary>Asks the database.</summary>
    public async Task<T> AskAsync<T>(Func<LyroContext, Task<T>> question)
    {
        await using var scope = _application.Services.CreateAsyncScope();
        return await question(scope.ServiceProvider.GetRequiredService<LyroContext>());
    }

    /// <summary>Waits until work has ended, however it does.</summary>
    public async Task<T> EndedAsync<T>(Func<LyroContext, Task<T>> row)
        where T : LongWork
    {
        for (var since = DateTime.UtcNow; DateTime.UtcNow - since < s_patience; await Task.Delay(100))
        {
            if (await AskAsync(row) is { State: WorkState.Done or WorkState.Failed or WorkState.Stopped } ended)
            {
                return ended;
            }
        }

        var left = await AskAsync(row);
        throw new TimeoutException($"The work did not end: {left.State}, {left.Doing}, {left.Error}, begun {left.Attempts} times, seen {left.SeenAt}.");
    }

    /// <summary>Runs a job here and now, as the queue would.</summary>
    public async Task RunAsync<T>(Func<T, Task> work)
    {
        await using var scope = _application.Services.CreateAsyncScope();
        await work(ActivatorUtilities.GetServiceOrCreateInstance<T>(scope.ServiceProvider));
    }

    public void Dispose()
    {
        _application.Dispose();

        // What it left open would be missing to those that come after it: a cluster takes a hundred.
        NpgsqlConnection.ClearAllPools();
        if (_ownsCluster)
        {
            _cluster.Dispose();
        }
    }

    // The process has one environment: whoever starts an application has it alone until the settings are read.
    private static WebApplicationFactory<Program> Start(string database, string folder, MemoryObjects? objects = null, IReadOnlyDictionary<string, string>? settings = null, bool onALine = false)
    {
        lock (s_environment)
        {
            Environment.SetEnvironmentVariable("LYRO_DB", database);
            Environment.SetEnvironmentVariable("LYRO_DATA", folder);
            Environment.SetEnvironmentVariable("LYRO_DEMO", "no");
            foreach (var (name, value) in settings ?? new Dictionary<string, string>())
            {
                Environment.SetEnvironmentVariable(name, value);
            }

            try
            {
                var application = new WebApplicationFactory<Program>().WithWebHostBuilder(host => host.ConfigureTestServices(services =>
                {
                    services.AddSingleton<IStartupFilter, AskedFrom>();
                    if (objects is not null)
                    {
                        services.AddSingleton<IObjectStore>(objects);
                    }
                }));
                if (onALine)
                {
                    application.UseKestrel(0);
                }

                application.StartServer();
                return application;
            }
            finally
            {
                foreach (var name in settings?.Keys ?? [])
                {
                    Environment.SetEnvironmentVariable(name, null);
                }
            }
        }
    }

    private static void Run(string database, string sql)
    {
        using var connection = new NpgsqlConnection(database);
        connection.Open();
        using var command = new NpgsqlCommand(sql, connection);
        command.ExecuteNonQuery();
    }
}
