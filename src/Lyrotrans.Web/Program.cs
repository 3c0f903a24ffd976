using Hangfire;
using Hangfire.PostgreSql;
using Lyrotrans.Core.Storing;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Storage.Store;
using Lyrotrans.Storage.Upgrading;
using Lyrotrans.Web;
using Lyrotrans.Web.Incoming;
using Lyrotrans.Web.Text;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Endpoints;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Keys;
using Lyrotrans.Web.Links;
using Lyrotrans.Web.Listening;
using Lyrotrans.Web.Rehearsing;
using Lyrotrans.Web.Seeding;
using Lyrotrans.Web.Sheets;
using Lyrotrans.Web.Upgrading;
using Lyrotrans.Web.Sweeping;
using Lyrotrans.Web.Uploading;
using Microsoft.EntityFrameworkCore;
using Serilog;

// A form or a question; files go up by the upload's own address, in pieces of any size.
const long MostBodyBytes = 1 << 20;

var settings = Settings.FromEnvironment();
PrivateFolders.Close(settings);
var builder = WebApplication.CreateBuilder(args);
builder.Host.UseSerilog((_, log) => log.MinimumLevel.Information()
    .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning)
    .MinimumLevel.Override("Hangfire", Serilog.Events.LogEventLevel.Warning)
    .WriteTo.Console(formatProvider: System.Globalization.CultureInfo.InvariantCulture));
builder.WebHost.ConfigureKestrel(server => server.Limits.MaxRequestBodySize = MostBodyBytes);

builder.Services.AddSingleton(settings);
builder.Services.AddSingleton<IObjectStore>(new FolderObjects(settings.DataFolder));
builder.Services.AddSingleton(services => new FileStore(services.GetRequiredService<IObjectStore>(), settings.StoreFolder));
builder.Services.AddSingleton<PackageStore>();
builder.Services.AddSingleton<UploadWriters>();
builder.Services.AddSingleton<ListeningSeats>();
builder.Services.AddSingleton<Outlines>();
builder.Services.AddSingleton<DocumentStore>();
builder.Services.AddSingleton<RoomMediaStores>();
builder.Services.AddScoped<RoomAccess>();
builder.Services.AddScoped<RoomSpace>();
builder.Services.AddScoped<RoomMediaStep>();
builder.Services.AddDbContextFactory<LyroContext>(options => options.UseNpgsql(settings.Database));
builder.Services.AddScoped<RevisionLog>();
builder.Services.AddScoped<DeskLoader>();
builder.Services.AddScoped<PairDesk>();
builder.Services.AddScoped<SheetShelf>();
builder.Services.AddScoped<RoleDesk>();
builder.Services.AddScoped<LostDesk>();
builder.Services.AddScoped<CutDesk>();
builder.Services.AddScoped<TempoDesk>();
builder.Services.AddSingleton<DocumentCache>();
builder.Services.AddScoped<WorkBook>();
builder.Services.AddScoped<Sweeper>();
builder.Services.AddScoped<ArrivalDesk>();
builder.Services.AddScoped<IArrivals, Arrivals>();
builder.Services.AddScoped<CameBackDesk>();
builder.Services.AddScoped<IReturnChecks, ReturnChecks>();
builder.Services.AddScoped<RehearsalDesk>();
builder.Services.AddScoped<IRehearsals, Rehearsals>();
builder.Services.AddScoped<ArrivingFiles>();
builder.Services.AddScoped<RoomClaims>();
builder.Services.AddScoped<RoomKeys>();
builder.Services.AddScoped<ForgottenBatches>();
builder.Services.AddSingleton<WrongLinks>();
builder.Services.AddScoped<LinkVisitor>();
builder.Services.AddScoped<LinkBook>();
builder.Services.AddScoped<ReturnDesk>();
builder.Services.AddScoped<ReportDesk>();
builder.Services.AddScoped<IntakeJob>();
builder.Services.AddScoped<FolderJob>();
builder.Services.AddScoped<BuildJob>();
builder.Services.AddScoped<MarksJob>();
builder.Services.AddScoped<PackageMarks>();
builder.Services.AddScoped<Seeder>();
builder.Services.AddDoors(settings);
builder.Services.AddAuthorizationBuilder().SetFallbackPolicy(
    new Microsoft.AspNetCore.Authorization.AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build());
builder.Services.AddAntiforgery(options => options.HeaderName = "X-Request-Token");
builder.Services.AddRazorPages().AddJsonOptions(json =>
{
    json.JsonSerializerOptions.Converters.Add(new System.Text.Json.Serialization.JsonStringEnumConverter());
    json.JsonSerializerOptions.Converters.Add(new MarkedTextConverter());
});
// An odd parameter is the mistake of whoever asked, whatever the surroundings.
builder.Services.Configure<RouteHandlerOptions>(options => options.ThrowOnBadRequest = false);
builder.Services.ConfigureHttpJsonOptions(json => json.SerializerOptions.Converters.Add(new MarkedTextConverter()));
builder.Services.AddSingleton<System.Text.Encodings.Web.HtmlEncoder>(new MarkedHtmlEncoder());
builder.Services.AddHangfire(hangfire => hangfire
    .UseSimpleAssemblyNameTypeSerializer().UseRecommendedSerializerSettings()
    .UsePostgreSqlStorage(storage => storage.UseNpgsqlConnection(settings.Database), new PostgreSqlStorageOptions
    {
        QueuePollInterval = TimeSpan.FromMilliseconds(500),

        // A worker says that it lives while it works; the work of one that was killed goes into the queue again after this.
        InvisibilityTimeout = TimeSpan.FromSeconds(20),
        UseSlidingInvisibilityTimeout = true,
    }));
if (settings.Role != Role.Pages)
{
    builder.Services.AddHangfireServer(server =>
    {
        server.WorkerCount = Math.Max(2, Environment.ProcessorCount);
        server.ShutdownTimeout = TimeSpan.FromSeconds(5);
    });
}

if (settings.Role == Role.Worker)
{
    builder.Services.AddSingleton<Microsoft.AspNetCore.Hosting.Server.IServer, NoServer>();
}
else
{
    builder.Services.AddHostedService<WarmUp>();
    builder.Services.AddHostedService<SweepClock>();
}

builder.Services.AddHostedService<WorkKeeper>();
builder.Services.AddHostedService<CacheClock>();

var app = builder.Build();
if (settings.Role != Role.Worker)
{
    using var scope = app.Services.CreateScope();
    if (scope.ServiceProvider.GetService<WrappedKeys>() is { } keys)
    {
        KeyRing.BringUnder(settings.KeyFolder, keys);
    }

    await OlderData.UpgradeAsync(scope.ServiceProvider, CancellationToken.None);
    if (settings.SeedDemo)
    {
        await scope.ServiceProvider.GetRequiredService<Seeder>().SeedAsync(CancellationToken.None);
    }
}

if (settings.Proxies.Count > 0)
{
    app.UseForwardedHeaders();
}

app.UseHsts();
app.UseMiddleware<SecurityHeaders>();
app.UseCookiePolicy();
app.UseExceptionHandler("/problem");
app.UseStatusCodePagesWithReExecute("/problem", "?code={0}");
app.UseStaticFiles(new StaticFileOptions { OnPrepareResponse = c => c.Context.Response.Headers.CacheControl = "no-cache" });
app.UseRouting();
app.UseAuthentication();

// After it is known who asks: limits of a person are theirs alone.
app.UseRateLimiter();
app.UseAuthorization();
app.UseMiddleware<OwnRequests>();
app.MapGet("/alive", () => Results.Text("alive")).AllowAnonymous();
app.MapRazorPages();
app.MapUploads();
app.MapSurvey();
app.MapListening();
app.MapPictures();
app.MapPackages();
app.MapArchives();
app.MapOneThings();
app.MapReceived();
app.MapReturns();
app.MapNewer();
app.Run();

/// <summary>For tests that start the application.</summary>
public partial class Program;
