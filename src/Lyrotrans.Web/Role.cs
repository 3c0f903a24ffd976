namespace Lyrotrans.Web;

/// <summary>What a process of the application does; all of them are the same program on the same database and folders.</summary>
public enum Role
{
    /// <summary>Answers and works.</summary>
    Everything,

    /// <summary>Answers; the work is left to workers.</summary>
    Pages,

    /// <summary>Works, and answers nothing.</summary>
    Worker,
}
