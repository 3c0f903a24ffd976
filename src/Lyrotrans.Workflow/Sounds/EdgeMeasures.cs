using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>How the sounding clips of a session begin and end, read from their media once for every set of clips.</summary>
public static class EdgeMeasures
{
    private const int Beside = 64;

    /// <summary>By clip id; clips of media that are not there or cannot be read are not in it.</summary>
    public static IReadOnlyDictionary<string, ClipEdges> Of(Session session, IMediaStore store, CancellationToken stop)
    {
        var clips = session.Tracks.Where(t => t.State == TrackState.Active).SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted && c.Length > 0).ToLookup(c => c.Media);
        var media = session.Media.Where(m => clips[m.Id].Any() && store.Holds(m)).ToList();
        return AtOnce.Select(media, m => OfMedia(m, [.. clips[m.Id]], session, store), stop).SelectMany(e => e).ToDictionary(e => e.Key, e => e.Value);
    }

    private static Dictionary<string, ClipEdges> OfMedia(Media media, List<Clip> clips, Session session, IMediaStore store)
    {
        var places = clips.Select(c => (c.Id, First: c.SourceOffset, End: c.SourceOffset + session.Rate.Convert(c.Length, media.Rate), Channels: c.ChannelMap)).ToList();
        var name = $"edges-{Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', places.Select(p => $"{p.Id} {p.First} {p.End} {string.Join(',', p.Channels)}")))))[..16]}";
        if (store.DerivedOf(media.Sha256!, name) is { } kept)
        {
            using var stream = kept.Open();
            return JsonSerializer.Deserialize<Dictionary<string, ClipEdges>>(stream)!;
        }

        try
        {
            using var file = SoundFile.Open(store.FileOf(media.Sha256!), media.FileName);
            var planar = Enumerable.Range(0, file.Source.Channels).Select(_ => new double[Beside]).ToArray();
            EdgeSound At(long start, int edge, IEnumerable<int> channels)
            {
                file.Source.Read(start, Beside, planar);
                var rows = channels.Where(c => c >= 0 && c < planar.Length).Select(c => planar[c]).ToList();
                return new EdgeSound([.. rows.Select(r => r[edge])], rows.Select(LargestMove).DefaultIfEmpty(0).Max());
            }

            // In the order of the file: what is decoded need not go back.
            var first = places.OrderBy(p => p.First).Select(p => (p.Id, Edge: At(p.First, 0, p.Channels))).ToDictionary(p => p.Id, p => p.Edge);
            var last = places.OrderBy(p => p.End).Select(p => (p.Id, Edge: At(p.End - Beside, Beside - 1, p.Channels))).ToDictionary(p => p.Id, p => p.Edge);
            var edges = places.ToDictionary(p => p.Id, p => new ClipEdges(first[p.Id], last[p.Id]));
            store.KeepDerived(media.Sha256!, name, output => JsonSerializer.Serialize(output, edges));
            return edges;
        }
        catch (BadInputException)
        {
            // Whoever needs its sound says so.
            return [];
        }
    }

    private static double LargestMove(double[] samples) => samples.Zip(samples.Skip(1), (a, b) => Math.Abs(b - a)).Max();
}
