using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Formats.Edits;

/// <summary>
/// Puts together what a document says of places and what its metadata keep of the rest. Where the two say the same the kept one holds whole; where somebody moved, cut,
/// copied, added or removed clips and tracks since, the places are theirs and what was kept goes with each of them.
/// </summary>
internal sealed class OwnSession
{
    private readonly Session _own;
    private readonly IReadOnlyDictionary<string, string> _clips;
    private readonly Dictionary<string, Clip> _kept;
    private readonly Dictionary<string, int> _channels;
    private readonly TakenNames _used = new();

    private OwnSession(Session own, IReadOnlyDictionary<string, string> clips)
    {
        _own = own;
        _clips = clips;
        _kept = own.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).DistinctBy(c => c.Id).ToDictionary(c => c.Id);
        _channels = own.Media.DistinctBy(m => m.Id).ToDictionary(m => m.Id, m => m.Channels);
    }

    /// <param name="read">Made of the document alone.</param>
    /// <param name="own">What the metadata keep.</param>
    /// <param name="tracks">The kept track of a track that was read.</param>
    /// <param name="clips">The kept clip of a clip that was read.</param>
    public static Session Merge(Session read, Session own, IReadOnlyDictionary<string, string> tracks, IReadOnlyDictionary<string, string> clips) => new OwnSession(own, clips).Merge(read, tracks);

    private Session Merge(Session read, IReadOnlyDictionary<string, string> tracks)
    {
        var kept = _own.Tracks.DistinctBy(t => t.Id).ToDictionary(t => t.Id);
        var found = read.Tracks.Select(t => (Read: t, Own: tracks.TryGetValue(t.Id, out var id) ? kept.GetValueOrDefault(id) : null)).ToList();
        var first = found.Where(f => f.Own is not null).DistinctBy(f => f.Own!.Id).ToDictionary(f => f.Own!.Id, f => f.Read);
        var merged = _own.Tracks.Where(t => t.Kind != TrackKind.Audio || first.ContainsKey(t.Id)).Select(t => t.Kind == TrackKind.Audio ? Track(first[t.Id], t) : t).ToList();
        var taken = new TakenNames().Taking(merged.Select(t => t.Id));
        foreach (var (track, of) in found.Where(f => f.Own is null || first[f.Own.Id] != f.Read))
        {
            merged.Add((of is null ? track with { Lanes = track.Lanes.Select(l => l with { Clips = Clips(l.Clips, track.Channels) }).ToValueArray() } : Track(track, Copy(of))) with { Id = taken.Free(track.Id, '-') });
        }

        return _own with
        {
            Name = read.Name,
            Start = _own.FrameRate == read.FrameRate ? read.Start : _own.Start,
            Tracks = merged.ToValueArray(),
            Media = _own.Media.Concat(read.Media.Where(m => !_channels.ContainsKey(m.Id))).ToValueArray(),
            Markers = _own.Markers.Select(m => m with { Id = string.Empty }).SequenceEqual(read.Markers.Select(m => m with { Id = string.Empty })) ? _own.Markers : read.Markers,
        };
    }

    // Of a track that somebody copied, what sounds.
    private static Track Copy(Track own) => own with { Lanes = own.Sounding is { } sounding ? [sounding] : [], SoundingLane = 0 };

    private Track Track(Track read, Track own)
    {
        var clips = Clips(read.Sounding?.Clips ?? [], own.Channels);
        return own with
        {
            Name = read.Name,
            Lanes = own.Sounding is null
                ? clips.Count == 0 ? own.Lanes : [new Lane("main", clips)]
                : own.Lanes.Select((l, i) => i == own.SoundingLane ? l with { Clips = clips } : l).ToValueArray(),
        };
    }

    private ValueArray<Clip> Clips(ValueArray<Clip> read, int channels) => read.Select(c => (_clips.TryGetValue(c.Id, out var id) && _kept.TryGetValue(id, out var before) ? Clip(c, before) : c))
        .Select(c => (c.ChannelMap.Count == channels ? c : c with { ChannelMap = Enumerable.Range(0, channels).Select(n => Math.Min(n, _channels.GetValueOrDefault(c.Media, 1) - 1)).ToValueArray() }) with { Id = _used.Free(c.Id, '-') })
        .ToValueArray();

    private static Clip Clip(Clip read, Clip own) =>
        (read.Start, read.Length, read.SourceOffset, read.Muted, read.Media, read.FadeIn.Length, read.FadeOut.Length) == (own.Start, own.Length, own.SourceOffset, own.Muted, own.Media, own.FadeIn.Length, own.FadeOut.Length)
            ? own
            : own with
            {
                Start = read.Start,
                Length = read.Length,
                SourceOffset = read.SourceOffset,
                Muted = read.Muted,
                Media = read.Media,
                FadeIn = Fade(read.FadeIn, own.FadeIn),
                FadeOut = Fade(read.FadeOut, own.FadeOut),
            };

    private static Fade Fade(Fade read, Fade own) => own.Length > 0 && read.Length > 0 ? own with { Length = read.Length } : read;
}
