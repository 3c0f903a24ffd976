using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>How a session is written as an AAF file.</summary>
public sealed record AafForm
{
    /// <summary>512 or 4096.</summary>
    public int SectorBytes { get; init; } = 4096;

    /// <summary>Edit units a second on sound tracks; null for samples.</summary>
    public Rational? EditRate { get; init; }

    /// <summary>Words about the composition, by name.</summary>
    public IReadOnlyDictionary<string, string> Comments { get; init; } = new Dictionary<string, string>();

    /// <summary>Fades from and to silence as properties of their clip, not as transitions.</summary>
    public bool FadesAsProperties { get; init; }
}
