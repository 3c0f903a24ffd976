namespace Lyrotrans.Cli;

/// <summary>The date of what is written.</summary>
internal static class Stamps
{
    /// <summary>SOURCE_DATE_EPOCH makes two builds of one session the same to the byte.</summary>
    public static DateTimeOffset Now() =>
        long.TryParse(Environment.GetEnvironmentVariable("SOURCE_DATE_EPOCH"), out var seconds) ? DateTimeOffset.FromUnixTimeSeconds(seconds) : DateTimeOffset.UtcNow;
}
