namespace Lyrotrans.Core.Storing;

/// <summary>Names of files in an <see cref="IObjectStore"/>.</summary>
public static class ObjectName
{
    /// <summary>Whether a name is parts of letters, digits, <c>-</c> and <c>.</c>, none of which begins with <c>.</c>, parted by <c>/</c>.</summary>
    public static bool IsValid(string name) => name.Split('/').All(p => p.Length > 0 && p[0] != '.' && p.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '.'));
}
