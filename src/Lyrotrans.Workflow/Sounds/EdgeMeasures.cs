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
    private const int NameDigits = 16;

    /// <summary>By clip id; clips of media that are not there, or that nobody measured, are not in it.</summary>
    public static IReadOnlyDictionary<string, ClipEdges> FromStore(Session session, IMediaStore store) => Places(session, store).SelectMany(p => Kept(p, store) ?? []).ToDictionary(e => e.Key, e => e.Value);

    /// <summary>Measures what was not yet, several media at once; what cannot be read is left.</summary>
    public static void Ensure(Session session, IMediaStore store, CancellationToken stop)
    {
        var open = Places(session, store).Where(p => store.DerivedOf(p.Media.Sha256!, p.Name) is null).ToList();
        AtOnce.Each(open.Count, i => Measure(open[i], store), stop);
    }

    private static List<MediumPlaces> Places(Session session, IMediaStore store)
    {
        var clips = session.Tracks.Where(t => t.State == TrackState.Active).SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted && c.Length > 0).ToLookup(c => c.Media);
        return [.. session.Media.Where(m => clips[m.Id].Any() && store.Holds(m)).Select(m => new MediumPlaces(m, [.. clips[m.Id].Select(c => new Place(c.Id, c.SourceOffset, c.SourceOffset + session.Rate.Convert(c.Length, m.Rate), c.ChannelMap))]))];
    }

    private static Dictionary<string, ClipEdges>? Kept(MediumPlaces of, IMediaStore store)
    {
        if (store.DerivedOf(of.Media.Sha256!, of.Name) is not { } kept)
        {
            return null;
        }

        using var stream = kept.Open();
        return JsonSerializer.Deserialize<Dictionary<string, ClipEdges>>(stream)!;
    }

    private static void Measure(MediumPlaces of, IMediaStore store)
    {
        var (media, places) = (of.Media, of.Places);
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
            store.KeepDerived(media.Sha256!, of.Name, output => JsonSerializer.Serialize(output, edges));
        }
        catch (BadInputException)
        {
            // Whoever needs its sound says so.
        }
    }

    // A clip in its medium's own samples.
    private sealed record Place(string Id, long First, long End, ValueArray<int> Channels);

    // Of one medium; what was measured of it is kept by all that it was measured at.
    private sealed record MediumPlaces(Media Media, IReadOnlyList<Place> Places)
    {
        public string Name { get; } = $"edges-{Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', Places.Select(p => $"{p.Id} {p.First} {p.End} {string.Join(',', p.Channels)}")))))[..NameDigits]}";
    }

    private static double LargestMove(double[] samples) => samples.Zip(samples.Skip(1), (a, b) => Math.Abs(b - a)).Max();
}
