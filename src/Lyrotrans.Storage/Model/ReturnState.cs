namespace Lyrotrans.Storage.Model;

/// <summary>What became of a file that was sent back. Numbers are kept in the database and never change.</summary>
public enum ReturnState
{
    /// <summary>It is on its way.</summary>
    Receiving = 0,

    /// <summary>It is here whole, and lies apart until the sender takes it.</summary>
    Here = 1,

    /// <summary>The sender took it into the transfer.</summary>
    Taken = 2,

    /// <summary>The sender threw it away, or it was never finished.</summary>
    Gone = 3,
}
