namespace Lyrotrans.Core.Sessions;

/// <summary>A named point, or a span where the length is above zero. In samples.</summary>
public sealed record Marker(string Id, string Text, long Sample, long Length = 0)
{
    /// <summary>Written where a format must name somebody and nobody was said; read, it says nobody.</summary>
    public const string Nobody = "Lyrotrans";

    /// <summary>Written where a format must have a date and none was said; read, it says none.</summary>
    public const string NoDate = "2000-01-01";

    /// <summary>Who set it, in the source's words; empty where nobody is said.</summary>
    public string By { get; init => field = value == Nobody ? string.Empty : value; } = string.Empty;

    /// <summary>When it was set, in the source's words and the source's own form of dates; empty where no date is said.</summary>
    public string Date { get; init => field = value == NoDate ? string.Empty : value; } = string.Empty;
}
