namespace Lyrotrans.Storage.Model;

/// <summary>What somebody said of a file that they listened to. Numbers are kept in the database and never change.</summary>
public enum HeardKind
{
    /// <summary>It was heard, and nothing is wrong.</summary>
    Heard = 0,

    /// <summary>Something is wrong at a place.</summary>
    Fault = 1,
}
