namespace Lyrotrans.Storage.Model;

/// <summary>A step that brought older data up to date and that the database alone could not take: it is taken once.</summary>
public sealed class DataStep
{
    public required string Name { get; set; }

    public DateTimeOffset At { get; set; }
}
