using System.Net;
using System.Threading.RateLimiting;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Keys;
using Lyrotrans.Web.Mail;
using Microsoft.AspNetCore.CookiePolicy;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.DataProtection.KeyManagement;
using Microsoft.AspNetCore.HostFiltering;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.AspNetCore.Identity;

namespace Lyrotrans.Web.Doors;

/// <summary>Everything about who comes in, put together.</summary>
public static class DoorServices
{
    /// <summary>The rate limit of pages that a stranger may ask.</summary>
    public const string StrangersLimit = "sign-in";

    /// <summary>The rate limit of what a link opens.</summary>
    public const string LinksLimit = "links";

    public static void AddDoors(this IServiceCollection services, Settings settings)
    {
        services.AddSingleton(TimeProvider.System);
        services.AddHttpContextAccessor();
        services.AddSingleton<Tries>();
        services.AddSingleton<UsedCodes>();
        services.AddSingleton<Later>();
        services.AddHostedService(s => s.GetRequiredService<Later>());
        services.AddSingleton<RoomLog>();
        services.AddSingleton<Outbox>();
        services.AddScoped<RoomOpener>();
        services.AddSingleton<IMailer>(s => settings.MailServer is null ? s.GetRequiredService<Outbox>() : ActivatorUtilities.CreateInstance<MailServer>(s));
        services.AddSingleton<Letters>();
        services.AddScoped<Entry>();
        services.AddScoped<SignInBook>();
        services.AddScoped<SignInCookie>();
        AddAccounts(services, settings);
        AddKeys(services, settings);
        AddNetwork(services, settings);
    }

    private static void AddAccounts(IServiceCollection services, Settings settings)
    {
        services.AddIdentity<Account, IdentityRole<Guid>>(options =>
            {
                options.Password.RequiredLength = 12;
                options.Password.RequireNonAlphanumeric = false;
                options.Password.RequireUppercase = false;
                options.Password.RequireLowercase = false;
                options.Password.RequireDigit = false;
                options.User.RequireUniqueEmail = true;

                // Wrong tries are counted by what was typed, so that an address without an account answers as one with it.
                options.Lockout.AllowedForNewUsers = false;
            })
            .AddEntityFrameworkStores<LyroContext>()
            .AddUserStore<AccountStore>()
            .AddPasswordValidator<GuessablePasswords>()
            .AddDefaultTokenProviders();
        services.Configure<DataProtectionTokenProviderOptions>(options => options.TokenLifespan = TimeSpan.FromHours(1));
        services.Configure<CookiePolicyOptions>(options =>
        {
            options.HttpOnly = HttpOnlyPolicy.Always;
            options.MinimumSameSitePolicy = SameSiteMode.Lax;
            options.Secure = settings.PublicAddress.Scheme == Uri.UriSchemeHttps ? CookieSecurePolicy.Always : CookieSecurePolicy.SameAsRequest;
        });
        services.ConfigureApplicationCookie(cookie =>
        {
            cookie.LoginPath = "/sign-in";
            cookie.AccessDeniedPath = "/sign-in";
            cookie.EventsType = typeof(SignInCookie);
            cookie.Cookie.Name = "lyrotrans";
            cookie.Cookie.SameSite = SameSiteMode.Lax;
            cookie.ExpireTimeSpan = SignInLimits.WholeStaying;
            cookie.SlidingExpiration = false;
        });
    }

    private static void AddKeys(IServiceCollection services, Settings settings)
    {
        services.AddDataProtection().SetApplicationName("lyrotrans").PersistKeysToFileSystem(new DirectoryInfo(settings.KeyFolder));
        if (settings.WrappingKeys.Count > 0)
        {
            var keys = new WrappedKeys(settings.WrappingKeys);
            services.AddSingleton(keys);
            services.Configure<KeyManagementOptions>(options => options.XmlEncryptor = new KeyEncryptor(keys));
        }
    }

    private static void AddNetwork(IServiceCollection services, Settings settings)
    {
        services.Configure<HostFilteringOptions>(options => options.AllowedHosts = [settings.PublicAddress.Host, "localhost", "127.0.0.1", "[::1]", .. settings.Hosts]);
        services.Configure<ForwardedHeadersOptions>(options =>
        {
            options.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto;
            options.KnownProxies.Clear();
            options.KnownIPNetworks.Clear();
            foreach (var proxy in settings.Proxies)
            {
                if (proxy.Contains('/', StringComparison.Ordinal))
                {
                    options.KnownIPNetworks.Add(System.Net.IPNetwork.Parse(proxy));
                }
                else
                {
                    options.KnownProxies.Add(IPAddress.Parse(proxy));
                }
            }
        });
        services.AddHsts(options => options.MaxAge = TimeSpan.FromDays(365));
        services.AddRateLimiter(options =>
        {
            options.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            options.AddPolicy(StrangersLimit, context => HttpMethods.IsPost(context.Request.Method)
                ? RateLimitPartition.GetFixedWindowLimiter(Neighbourhood(context.Connection.RemoteIpAddress), _ => new FixedWindowRateLimiterOptions { PermitLimit = 30, Window = TimeSpan.FromMinutes(1) })
                : RateLimitPartition.GetNoLimiter("looking"));
            options.AddPolicy(LinksLimit, context => RateLimitPartition.GetTokenBucketLimiter(
                Neighbourhood(context.Connection.RemoteIpAddress),
                _ => new TokenBucketRateLimiterOptions { TokenLimit = 4000, TokensPerPeriod = 100, ReplenishmentPeriod = TimeSpan.FromSeconds(1), QueueLimit = 200 }));
            options.AddPolicy("upload", context => RateLimitPartition.GetTokenBucketLimiter(
                context.User.Identity?.Name ?? "unknown",
                _ => new TokenBucketRateLimiterOptions { TokenLimit = 4000, TokensPerPeriod = 200, ReplenishmentPeriod = TimeSpan.FromSeconds(1), QueueLimit = 1000 }));
        });
    }

    /// <summary>Where somebody asks from: whoever has an IPv6 address has 2^64 of them.</summary>
    public static string Neighbourhood(IPAddress? address) => address is null ? "unknown"
        : address.IsIPv4MappedToIPv6 ? address.MapToIPv4().ToString()
        : address.AddressFamily == System.Net.Sockets.AddressFamily.InterNetworkV6 ? Convert.ToHexString(address.GetAddressBytes().AsSpan(0, 8))
        : address.ToString();
}
