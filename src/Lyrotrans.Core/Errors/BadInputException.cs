using Lyrotrans.Core.Findings;

namespace Lyrotrans.Core.Errors;

/// <summary>
/// A file that cannot be read as what it is. Says what is wrong, in which file, where in it, and what to do about it.
/// </summary>
public sealed class BadInputException : Exception, ISaid
{
    public BadInputException(FindingCode code, string file, string where, string problem, string remedy)
        : base($"{file}{(where.Length > 0 ? $", {where}" : string.Empty)}: {problem} {remedy}".TrimEnd())
    {
        Code = code;
        File = file;
        Where = where;
        Problem = problem;
        Remedy = remedy;
    }

    public BadInputException(FindingCode code, string file, long offset, string problem, string remedy)
        : this(code, file, $"byte {offset}", problem, remedy)
    {
    }

    /// <summary>For programs; it never changes.</summary>
    public FindingCode Code { get; }

    /// <summary>The name of the file that is refused, as it was given.</summary>
    public string File { get; }

    /// <summary>A byte offset or a path in a document; may be empty.</summary>
    public string Where { get; }

    /// <summary>What is wrong, in a sentence.</summary>
    public string Problem { get; }

    /// <summary>What can be done about it, in a sentence.</summary>
    public string Remedy { get; }

    /// <summary>The refusal as the finding that it is; its text names the file and the place.</summary>
    public Finding Finding => new(Code, Where, Message);
}
