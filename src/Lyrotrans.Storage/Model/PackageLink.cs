namespace Lyrotrans.Storage.Model;

/// <summary>A link that opens exactly one package to whoever has it. The link itself is kept nowhere; what is kept is by what it is known again.</summary>
public sealed class PackageLink
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>The package that it opens.</summary>
    public Guid BuildId { get; set; }

    /// <summary>Of the link's token, in lower-case hex.</summary>
    public required string TokenSha256 { get; set; }

    /// <summary>Whom it is for, as the sender calls them; may be empty.</summary>
    public required string For { get; set; }

    /// <summary>Where it was sent to; empty where the sender passes it on.</summary>
    public required string Mail { get; set; }

    /// <summary>The name of who made it.</summary>
    public required string By { get; set; }

    /// <summary>When.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>From then on it opens nothing.</summary>
    public DateTimeOffset ExpiresAt { get; set; }

    /// <summary>Hash of the words that must be typed first; null where none are.</summary>
    public string? PassphraseHash { get; set; }

    /// <summary>How many may fetch the package; null for any number.</summary>
    public int? MostClaims { get; set; }

    /// <summary>Bytes that may be sent back by it.</summary>
    public long ReturnBytes { get; set; }

    /// <summary>When the sender took it back; null while it holds.</summary>
    public DateTimeOffset? RevokedAt { get; set; }

    /// <summary>When the receiver said that all is here; null until then.</summary>
    public DateTimeOffset? ConfirmedAt { get; set; }

    /// <summary>Who said it, as they called themselves.</summary>
    public string? ConfirmedBy { get; set; }

    /// <summary>Whether it opens its package.</summary>
    public bool Holds(DateTimeOffset now) => RevokedAt is null && now < ExpiresAt;
}
