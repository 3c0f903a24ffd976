namespace Lyrotrans.Core.Errors;

/// <summary>
/// A file that cannot be read as what it is. Says what is wrong, in which file, where in it, and what to do about it.
/// </summary>
public sealed class BadInputException : Exception
{
    public BadInputException(string file, string where, string problem, string remedy)
        : base($"{file}{(where.Length > 0 ? $", {where}" : string.Empty)}: {problem} {remedy}".TrimEnd())
    {
        File = file;
        Where = where;
        Problem = problem;
        Remedy = remedy;
    }

    public BadInputException(string file, long offset, string problem, string remedy)
        : this(file, $"byte {offset}", problem, remedy)
    {
    }

    public string File { get; }

    /// <summary>A byte offset or a path in a document; may be empty.</summary>
    public string Where { get; }

    public string Problem { get; }

    public string Remedy { get; }
}
