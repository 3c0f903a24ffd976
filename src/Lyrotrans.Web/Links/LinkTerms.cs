namespace Lyrotrans.Web.Links;

/// <summary>What a link is made with.</summary>
/// <param name="For">Whom it is for; may be empty.</param>
/// <param name="Mail">Where it is sent to; empty where the sender passes it on.</param>
/// <param name="Days">How long it holds.</param>
/// <param name="Passphrase">What must be typed first; empty for nothing.</param>
/// <param name="MostClaims">How many may fetch the package; null for any number.</param>
/// <param name="ReturnBytes">How much may be sent back by it.</param>
public sealed record LinkTerms(string For, string Mail, int Days, string Passphrase, int? MostClaims, long ReturnBytes)
{
    /// <summary>The longest that a link holds, in days.</summary>
    public const int MostDays = 365;

    /// <summary>The most that may be sent back by one link: 100 GB.</summary>
    public const long MostReturn = 100_000_000_000;

    private const int ShortestPassphrase = 6;
    private const int LongestText = 200;

    /// <summary>Why no link is made so, in words; null where one is.</summary>
    public string? Problem => Days is < 1 or > MostDays ? $"A link holds 1 to {MostDays} days."
        : MostClaims is < 1 or > 1000 ? "1 to 1 000 may fetch a package by a link, or any number where nothing is typed."
        : ReturnBytes is < 0 or > MostReturn ? "Up to 100 GB can come back by a link."
        : Passphrase.Length is > 0 and < ShortestPassphrase ? $"A passphrase has {ShortestPassphrase} characters or more."
        : Passphrase.Length > LongestText || For.Length > LongestText || Mail.Length > LongestText ? $"That is longer than {LongestText} characters."
        : Mail.Length > 0 && (!MimeKit.MailboxAddress.TryParse(Mail, out var box) || !box.Address.Contains('@', StringComparison.Ordinal)) ? $"{Mail} is no e-mail address."
        : null;
}
