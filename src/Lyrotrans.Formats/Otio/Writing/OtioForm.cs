using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Otio.Writing;

/// <summary>How a session is written as an OTIO document.</summary>
public sealed record OtioForm
{
    /// <summary>Units a second of all places on tracks; null for samples.</summary>
    public Rational? EditRate { get; init; }

    /// <summary>Words about the composition, by name.</summary>
    public IReadOnlyDictionary<string, string> Comments { get; init; } = new Dictionary<string, string>();
}
