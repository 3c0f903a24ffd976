using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Formats.Edits;

/// <summary>
/// Puts together what a document says of places and what its metadata keep of the rest. Where the two say the same the kept one holds whole; where somebody moved, cut,
/// added or removed clips since, the places are theirs and what was kept goes with the clips that are left.
/// </summary>
internal static class OwnSession
{
    /// <param name="read">Made of the document alone.</param>
    /// <param name="own">What the metadata keep.</param>
    /// <param name="tracks">The kept track of a track that was read.</param>
    /// <param name="clips">The kept clip of a clip that was read.</param>
    public static Session Merge(Session read, Session own, IReadOnlyDictionary<string, string> tracks, IReadOnlyDictionary<string, string> clips)
    {
        var kept = own.Tracks.ToDictionary(t => t.Id);
        var found = read.Tracks.Select(t => (Read: t, Own: tracks.TryGetValue(t.Id, out var id) ? kept.GetValueOrDefault(id) : null)).ToList();
        var byOwn = found.Where(f => f.Own is not null).DistinctBy(f => f.Own!.Id).ToDictionary(f => f.Own!.Id, f => f.Read);
        var merged = own.Tracks.Where(t => t.Kind != TrackKind.Audio || byOwn.ContainsKey(t.Id)).Select(t => t.Kind == TrackKind.Audio ? Track(byOwn[t.Id], t, clips) : t)
            .Concat(found.Where(f => f.Own is null).Select(f => f.Read with { Id = Free(f.Read.Id, kept) })).ToValueArray();
        var media = own.Media.ToDictionary(m => m.Id);
        return own with
        {
            Name = read.Name,
            Start = own.FrameRate == read.FrameRate ? read.Start : own.Start,
            Tracks = merged,
            Media = own.Media.Concat(read.Media.Where(m => !media.ContainsKey(m.Id))).ToValueArray(),
            Markers = own.Markers.Select(m => (m.Sample, m.Length, m.Text)).SequenceEqual(read.Markers.Select(m => (m.Sample, m.Length, m.Text))) ? own.Markers : read.Markers,
        };
    }

    private static Track Track(Track read, Track own, IReadOnlyDictionary<string, string> clips)
    {
        if (own.Sounding is not { } sounding)
        {
            return read.Sounding is { Clips.Count: > 0 } fresh ? own with { Name = read.Name, Lanes = [fresh] } : own with { Name = read.Name };
        }

        var kept = sounding.Clips.ToDictionary(c => c.Id);
        var merged = (read.Sounding?.Clips ?? []).Select(c => clips.TryGetValue(c.Id, out var id) && kept.TryGetValue(id, out var before) ? Clip(c, before) : c with { Id = $"{own.Id}-{c.Id}" }).ToValueArray();
        return own with { Name = read.Name, Lanes = own.Lanes.Select((l, i) => i == own.SoundingLane ? l with { Clips = merged } : l).ToValueArray() };
    }

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

    private static string Free(string id, Dictionary<string, Track> taken) => taken.ContainsKey(id) ? $"{id}-new" : id;
}
