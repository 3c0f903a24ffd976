namespace Lyrotrans.Storage.Model;

/// <summary>What happened at a link. Numbers are kept in the database and never change.</summary>
public enum LinkEventKind
{
    /// <summary>The page was opened.</summary>
    Opened = 0,

    /// <summary>The package or a file of it was fetched.</summary>
    Fetched = 1,

    /// <summary>Files were held to their sums in the receiver's browser.</summary>
    Checked = 2,

    /// <summary>The receiver said that all is here.</summary>
    Confirmed = 3,

    /// <summary>The receiver wrote a word.</summary>
    Word = 4,

    /// <summary>A file was sent back.</summary>
    SentBack = 5,

    /// <summary>The passphrase was wrong.</summary>
    Refused = 6,

    /// <summary>The sender took what was sent back, or threw it away.</summary>
    Answered = 7,

    /// <summary>The sender made the link, sent it or took it back.</summary>
    Made = 8,
}
