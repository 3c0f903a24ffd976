using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>A slot of a mob: one track of it.</summary>
/// <param name="id">What references call it.</param>
/// <param name="segment">Opened when it is first asked for.</param>
internal sealed class ChainSlot<T>(long id, Func<T?> segment)
    where T : class
{
    private readonly Lazy<T?> _segment = new(segment);

    public long Id { get; } = id;

    public string? Name { get; init; }

    /// <summary>The number that people call it by; null where none was said.</summary>
    public int? Number { get; init; }

    /// <summary>Edit units a second; null where each segment says its own.</summary>
    public Rational? EditRate { get; init; }

    /// <summary>In edit units.</summary>
    public long Origin { get; init; }

    public T? Segment => _segment.Value;
}
