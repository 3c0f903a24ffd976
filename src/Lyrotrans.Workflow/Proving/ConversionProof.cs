using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Audio.Comparing;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Proving;

/// <summary>
/// Media of another rate are converted once more, by a converter that shares nothing with the one of the prints: at the edges of clips and in seconds that nobody knows before the package
/// is there. Whole files take too long; the bench does them.
/// </summary>
internal static class ConversionProof
{
    /// <summary>The largest difference, in dBFS.</summary>
    public const double BoundDb = -120;

    /// <summary>The largest shift, in samples.</summary>
    public const double MostLate = 0.001;

    private const int MostEdges = 200;
    private const int Seconds = 4;
    private const int EdgeSamples = 512;

    private sealed record Place(Media Media, long Origin, long Start, int Count, bool IsEdge);

    /// <param name="what">What was converted, for people.</param>
    /// <param name="session">At the rate that its media are converted to.</param>
    /// <param name="tracks">Ids of the tracks whose clips go.</param>
    /// <param name="opener">The session's media.</param>
    /// <param name="lot">Which seconds; the manifest's hash, for one.</param>
    /// <param name="stop">Stops between places.</param>
    /// <returns>Nothing where nothing was converted.</returns>
    public static IEnumerable<ProofRow> Prove(string what, Session session, IReadOnlySet<string> tracks, IMediaOpener opener, string lot, CancellationToken stop)
    {
        var clips = Converted(session, tracks);
        if (clips.Count == 0)
        {
            return [];
        }

        var edges = clips.SelectMany(c => Edges(session, c.Clip, c.Media)).ToList();
        var places = Spread(edges, MostEdges).Concat(Drawn(session, clips, lot)).GroupBy(p => p.Media.Id).Select(g => g.ToList()).ToList();
        var errors = new ConversionError?[places.Count];
        var broken = new BadInputException?[places.Count];
        AtOnce.Each(places.Count, i =>
        {
            try
            {
                errors[i] = Compare(session, places[i], opener, stop);
            }
            catch (BadInputException problem)
            {
                broken[i] = problem;
            }
        }, stop);
        return [.. places.Zip(broken).Where(p => p.Second is not null).Select(p => new ProofRow(p.First[0].Media.FileName, "conversion", "readable", p.Second!.Message, "broken", false)), .. Row(what, places, errors, edges.Count)];
    }

    // A medium that is missing is not compared; that it is missing stands in rows of its own.
    private static IEnumerable<ProofRow> Row(string what, List<List<Place>> places, ConversionError?[] errors, int edges)
    {
        var there = errors.OfType<ConversionError>().ToList();
        if (there.Count == 0)
        {
            yield break;
        }

        var (worst, late) = (Decibels.FromRatio(there.Max(e => e.Peak)), there.Max(e => Math.Abs(e.Late)));
        var at = places.Where((_, i) => errors[i] is not null).SelectMany(p => p).ToList();
        yield return new ProofRow(
            what, $"against a second converter, at {Digits.Grouped(at.Count(p => p.IsEdge))} of {Digits.Grouped(edges)} clip edges and {Phrases.Count(at.Count(p => !p.IsEdge), "second")}",
            $"below {Decibels.Words(BoundDb)} dBFS, {MostLate.ToString(CultureInfo.InvariantCulture)} samples",
            $"{Decibels.Words(worst)} dBFS, {late.ToString("0.######", CultureInfo.InvariantCulture)} samples", "0", worst <= BoundDb && late <= MostLate);
    }

    private static List<(Clip Clip, Media Media)> Converted(Session session, IReadOnlySet<string> tracks)
    {
        var media = session.Media.ToDictionary(m => m.Id);
        return [.. session.Tracks.Where(t => tracks.Contains(t.Id)).SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => (c, media[c.Media])).Where(c => c.Item2.Rate != session.Rate)];
    }

    // Around its first sample, and around its last.
    private static Place[] Edges(Session session, Clip clip, Media media)
    {
        var count = Math.Min(EdgeSamples, session.Rate.HeaderHz / 10);
        var (origin, start) = new RateGrid(media.Rate, session.Rate).Anchor(clip.SourceOffset, clip.SourcePart);
        return [new Place(media, origin, start - (count / 2), count, true), new Place(media, origin, start + clip.Length - (count / 2), count, true)];
    }

    private static IEnumerable<Place> Spread(List<Place> edges, int most) =>
        edges.Count <= most ? edges : Enumerable.Range(0, most).Select(i => edges[(int)((long)i * edges.Count / most)]);

    private static IEnumerable<Place> Drawn(Session session, List<(Clip Clip, Media Media)> clips, string lot)
    {
        var dice = new Random(BitConverter.ToInt32(SHA256.HashData(Encoding.UTF8.GetBytes(lot))));
        for (var i = 0; i < Seconds; i++)
        {
            var (clip, media) = clips[dice.Next(clips.Count)];
            var count = (int)Math.Min(clip.Length, session.Rate.HeaderHz);
            var (origin, start) = new RateGrid(media.Rate, session.Rate).Anchor(clip.SourceOffset, clip.SourcePart);
            yield return new Place(media, origin, start + dice.NextInt64(clip.Length - count + 1), count, false);
        }
    }

    private static ConversionError? Compare(Session session, List<Place> places, IMediaOpener opener, CancellationToken stop)
    {
        if (opener.Open(places[0].Media) is not { } source)
        {
            return null;
        }

        using var error = new ConversionError(source, session.Rate);
        foreach (var place in places)
        {
            stop.ThrowIfCancellationRequested();
            error.Take(place.Origin, place.Start, place.Count);
        }

        return error;
    }
}
