using Microsoft.AspNetCore.Identity;

namespace Lyrotrans.Storage.Model;

/// <summary>An engineer who signs in; belongs to one room.</summary>
public sealed class Account : IdentityUser<Guid>
{
    public Guid RoomId { get; set; }

    public Room? Room { get; set; }

    public string Name { get; set; } = string.Empty;
}
