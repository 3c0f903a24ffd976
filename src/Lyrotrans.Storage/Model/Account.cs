using Microsoft.AspNetCore.Identity;

namespace Lyrotrans.Storage.Model;

/// <summary>A person who signs in. Which rooms are theirs, <see cref="Membership"/> says.</summary>
public sealed class Account : IdentityUser<Guid>
{
    /// <summary>As colleagues know them.</summary>
    public string Name { get; set; } = string.Empty;
}
