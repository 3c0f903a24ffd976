namespace Lyrotrans.Storage.Model;

/// <summary>That a person is signed in on some browser. The browser's cookie names this row; without it the cookie is worth nothing.</summary>
public sealed class SignIn
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>Who is signed in.</summary>
    public Guid AccountId { get; set; }

    /// <summary>When they signed in.</summary>
    public DateTimeOffset BeganAt { get; set; }

    /// <summary>When they last did something, to the minute; what a page asks by itself does not count.</summary>
    public DateTimeOffset SeenAt { get; set; }

    /// <summary>Whether they chose to stay signed in.</summary>
    public bool Stays { get; set; }

    /// <summary>What the browser says of itself, for the person to know it again.</summary>
    public required string Browser { get; set; }

    /// <summary>Where it asked from when it signed in.</summary>
    public required string Address { get; set; }
}
