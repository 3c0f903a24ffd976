namespace Lyrotrans.Core.Options;

/// <summary>One thing that is chosen or typed in a record of choices. What it is called in documents and forms, which values it has and what is told when it changes stands here and nowhere else.</summary>
/// <param name="id">In documents and forms; it never changes.</param>
/// <param name="label">Beside its field in a form.</param>
/// <param name="about">What it says, in a sentence for readers of documents.</param>
public abstract class Option<T>(string id, string label, string about)
{
    /// <summary>In documents and forms; it never changes.</summary>
    public string Id { get; } = id;

    /// <summary>Beside its field in a form.</summary>
    public string Label { get; } = label;

    /// <summary>What it says, in a sentence for readers of documents.</summary>
    public string About { get; } = about;

    /// <summary>Whether a document without it is refused; it is as by default otherwise.</summary>
    public bool Required { get; init; }

    /// <summary>What is told where it changed; null where it did not.</summary>
    public abstract string? Changed(T before, T after);
}
