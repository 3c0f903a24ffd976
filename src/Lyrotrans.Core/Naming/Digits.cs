using System.Globalization;

namespace Lyrotrans.Core.Naming;

/// <summary>Numbers for people: groups of three, parted by a thin space that does not break; a true minus sign.</summary>
public static class Digits
{
    private static readonly NumberFormatInfo s_format = new() { NumberGroupSeparator = "\u202f", NumberGroupSizes = [3], NegativeSign = "−" };

    /// <summary>A whole number for people, with a narrow space between thousands.</summary>
    public static string Grouped(long value) => value.ToString("N0", s_format);

    /// <summary>Bytes in decimal units: <c>3.3 MB</c>.</summary>
    public static string Bytes(long bytes) => bytes switch
    {
        < 1000 => string.Create(CultureInfo.InvariantCulture, $"{bytes} B"),
        < 1_000_000 => string.Create(CultureInfo.InvariantCulture, $"{bytes / 1e3:0.0} kB"),
        < 1_000_000_000 => string.Create(CultureInfo.InvariantCulture, $"{bytes / 1e6:0.0} MB"),
        _ => string.Create(CultureInfo.InvariantCulture, $"{bytes / 1e9:0.00} GB"),
    };
}
