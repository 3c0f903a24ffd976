namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>A mob of a chain format: what clips refer to.</summary>
/// <param name="id">Its identifier.</param>
/// <param name="slots">Read when they are first asked for.</param>
/// <param name="isSound">Whether a segment is sound.</param>
internal sealed class ChainMob<T>(string id, Func<IEnumerable<ChainSlot<T>>> slots, Func<T, bool> isSound)
    where T : class
{
    private List<ChainSlot<T>>? _slots;
    private List<ChainSlot<T>>? _sound;
    private Dictionary<long, ChainSlot<T>>? _byId;

    public string Id { get; } = id;

    public string? Name { get; init; }

    /// <summary>It stands for a sound file.</summary>
    public bool IsFile { get; init; }

    public bool IsMaster { get; init; }

    public bool IsComposition { get; init; }

    public IReadOnlyList<ChainSlot<T>> Slots => _slots ??= [.. slots()];

    public List<ChainSlot<T>> SoundSlots => _sound ??= [.. Slots.Where(s => s.Segment is { } segment && isSound(segment))];

    public ChainSlot<T>? Slot(long slot) => (_byId ??= Slots.DistinctBy(s => s.Id).ToDictionary(s => s.Id)).GetValueOrDefault(slot);

    /// <summary>The channel of a slot: its number, or its place among those with sound.</summary>
    public int ChannelOf(ChainSlot<T> slot) => slot.Number ?? SoundSlots.FindIndex(s => s.Id == slot.Id) + 1;
}
