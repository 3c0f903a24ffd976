namespace Lyrotrans.Web.Doors;

/// <summary>Kinds of what may be tried only so often.</summary>
public enum TryKind
{
    /// <summary>A password for a typed address.</summary>
    Password,

    /// <summary>A code or a password of an account that is known.</summary>
    Account,

    /// <summary>A letter to a typed address.</summary>
    Letter,

    /// <summary>The passphrase of a link.</summary>
    Link,
}
