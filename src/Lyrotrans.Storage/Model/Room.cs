namespace Lyrotrans.Storage.Model;

/// <summary>A studio; owns its transfers and media.</summary>
public sealed class Room
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>As its engineers call it.</summary>
    public required string Name { get; set; }
}
