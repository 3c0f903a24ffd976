namespace Lyrotrans.Web.Doors;

/// <summary>What wrong tries are counted for. Two of different kinds are never one, whatever was typed; addresses that differ by case alone are one.</summary>
public readonly record struct TryOf
{
    // A typed address is as long as somebody likes; RFC 5321 has 256 octets for a path.
    private const int MostOfAddress = 320;

    private TryOf(TryKind kind, string what) => (Kind, What) = (kind, what);

    private TryKind Kind { get; }

    private string What { get; }

    /// <summary>A password for an address, as it was typed.</summary>
    public static TryOf Password(string address) => new(TryKind.Password, Typed(address));

    /// <summary>Anything that a known account is asked for: a code, or its password again.</summary>
    public static TryOf Account(Guid id) => new(TryKind.Account, id.ToString());

    /// <summary>A letter to an address; each counts, so that nobody's box is filled.</summary>
    public static TryOf Letter(string address) => new(TryKind.Letter, Typed(address));

    /// <summary>The passphrase of a link, whoever types it.</summary>
    public static TryOf Link(Guid id) => new(TryKind.Link, id.ToString());

    private static string Typed(string address) => (address.Trim() is var typed && typed.Length > MostOfAddress ? typed[..MostOfAddress] : typed).ToUpperInvariant();
}
