namespace Lyrotrans.Storage.Model;

/// <summary>A studio; owns its transfers.</summary>
public sealed class Room
{
    public Guid Id { get; set; }

    public required string Name { get; set; }
}
