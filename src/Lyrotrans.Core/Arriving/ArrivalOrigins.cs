using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Arriving;

/// <summary>
/// Which sent medium each medium of the other side is, where no sound says it: by the clips that are cut from it, whose lengths and distances in it are those that were sent, however it was trimmed; by clips that lie
/// where they were sent; then by identifiers and names. What a few clips say against is still known by the others.
/// </summary>
internal sealed class ArrivalOrigins
{
    // One clip alone says nothing: another sound may be as long.
    private const int LeastVotes = 2;

    // Lengths that so many clips have tell none of them apart.
    private const int MostAlike = 64;
    private readonly Session _sent;
    private readonly Session _found;
    private readonly Dictionary<string, FoundOrigin> _known;

    private ArrivalOrigins(Session sent, Session found, IReadOnlyDictionary<string, FoundOrigin> known) => (_sent, _found, _known) = (sent, found, known.ToDictionary());

    /// <param name="sent">What was sent.</param>
    /// <param name="found">What the other side has.</param>
    /// <param name="known">What sound says already.</param>
    public static IReadOnlyDictionary<string, FoundOrigin> Of(Session sent, Session found, IReadOnlyDictionary<string, FoundOrigin> known)
    {
        var origins = new ArrivalOrigins(sent, found, known);
        origins.ByClips((clip, _) => clip.Length, 0);
        origins.ByClips((clip, by) => (clip.Start - by, clip.Length), origins.Shift());
        origins.ByIdentity();
        return origins._known;
    }

    private static IEnumerable<Clip> Clips(Session session) => session.Tracks.SelectMany(t => t.Sounding?.Clips ?? []);

    /// <summary>Each clip votes for the sent media, and places in them, that have a clip like it; a medium is what most of its clips say, where hardly any say another.</summary>
    private void ByClips<T>(Func<Clip, long, T> alike, long shift)
        where T : notnull
    {
        var ours = Clips(_sent).GroupBy(c => alike(c, 0)).ToDictionary(g => g.Key, g => g.Select(c => (c.Media, c.SourceOffset)).Distinct().Take(MostAlike + 1).ToList());
        foreach (var medium in Clips(_found).Where(c => !_known.ContainsKey(c.Media)).GroupBy(c => c.Media).ToList())
        {
            var cuts = medium.DistinctBy(c => (c.SourceOffset, alike(c, shift))).ToList();
            var votes = cuts.SelectMany(c => ours.GetValueOrDefault(alike(c, shift)) is { Count: <= MostAlike } same ? same.Select(s => (s.Media, Offset: s.SourceOffset - c.SourceOffset)).Distinct() : [])
                .GroupBy(v => v).Select(g => (g.Key, Count: g.Count())).OrderByDescending(v => v.Count).Take(2).ToList();
            if (votes.Count > 0 && votes[0].Count >= LeastVotes && 2 * votes[0].Count >= cuts.Count && (votes.Count == 1 || 2 * votes[1].Count <= votes[0].Count))
            {
                _known[medium.Key] = new FoundOrigin(votes[0].Key.Media, votes[0].Key.Offset, ArrivalBasis.Source);
            }
        }
    }

    private long Shift() => CommonShift.Of(
        Clips(_sent).Select(c => ((c.Media, c.SourceOffset, c.Length), c.Start)),
        Clips(_found).Where(c => _known.ContainsKey(c.Media)).Select(c => ((_known[c.Media].Media, c.SourceOffset + _known[c.Media].Offset, c.Length), c.Start)));

    private void ByIdentity()
    {
        foreach (var say in new Func<Media, IEnumerable<string>>[] { m => m.Identifiers, m => [m.ShortName.ToUpperInvariant()], m => [Path.GetFileNameWithoutExtension(m.ShortName).ToUpperInvariant()] })
        {
            var ours = _sent.Media.SelectMany(m => say(m).Distinct().Select(i => (Name: i, m.Id))).GroupBy(m => m.Name).Where(g => g.Count() == 1).ToDictionary(g => g.Key, g => g.Single().Id);
            foreach (var medium in _found.Media.Where(m => !_known.ContainsKey(m.Id)))
            {
                if (say(medium).Select(i => ours.GetValueOrDefault(i)).FirstOrDefault(i => i is not null) is { } same)
                {
                    _known[medium.Id] = new FoundOrigin(same, 0, ArrivalBasis.Identifier);
                }
            }
        }
    }
}
