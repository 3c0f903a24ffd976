namespace Lyrotrans.Storage.Model;

/// <summary>A studio; owns its transfers and media.</summary>
public sealed class Room
{
    public Guid Id { get; set; }

    public required string Name { get; set; }
}
