using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Omf.Writing;

/// <summary>How a session is written as an OMF file.</summary>
public sealed record OmfForm
{
    /// <summary>Edit units a second on sound tracks; null for samples.</summary>
    public Rational? EditRate { get; init; }

    /// <summary>Words about the composition, by name; ASCII.</summary>
    public IReadOnlyDictionary<string, string> Comments { get; init; } = new Dictionary<string, string>();

    /// <summary>Fades from and to silence as properties of their clip, not as transitions.</summary>
    public bool FadesAsProperties { get; init; }
}
