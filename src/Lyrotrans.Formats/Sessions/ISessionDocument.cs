using Lyrotrans.Core.Errors;

namespace Lyrotrans.Formats.Sessions;

/// <summary>A document that says one session or several, and may hold their sound; opened once.</summary>
public interface ISessionDocument
{
    /// <summary>The names of its compositions that no other refers to, the one that is meant first.</summary>
    IReadOnlyList<string> Compositions { get; }

    /// <summary>Whether its media lie where it says, below its own folder; else they are looked for by all that is known of them.</summary>
    bool NamesPaths => false;

    /// <param name="composition">The name of the one to take; without it the first.</param>
    /// <exception cref="BadInputException">It is damaged beyond reading, or has no composition.</exception>
    ReadSession ReadSession(string? composition = null);

    /// <summary>The sound of a medium, as it lies in the file; null where it is not inside.</summary>
    /// <param name="id">The medium's identifier.</param>
    Stream? OpenEssence(string id);
}
