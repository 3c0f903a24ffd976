using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Relinking;

/// <summary>
/// Finds a session's media among sound files, all at once: by hash, identifier, name, time stamp, length, rate, channels and the start of the file. What is
/// certain is bound; what is not is shown with its reasons.
/// </summary>
public static class Relink
{
    /// <summary>Evidence of this weight is beyond doubt.</summary>
    public const int Certain = 100;

    private const int Worthwhile = 30;
    private const int MostDoubtful = 5;

    // Beyond what any header of the same format has: so a start that is equal has stamps and names in it too.
    private const int TellingStart = 200;

    /// <param name="wanted">Media without a file.</param>
    /// <param name="needed">By media id, how much of it clips use, in its own samples.</param>
    /// <param name="candidates">Sound files.</param>
    /// <param name="chosen">By media id, what the engineer chose; an empty text leaves it missing.</param>
    /// <param name="folder">Where the document lies among the files, with a <c>/</c> at its end; empty at the top.</param>
    public static IReadOnlyDictionary<string, LinkResult> Match(
        IReadOnlyList<Media> wanted, IReadOnlyDictionary<string, long> needed, IReadOnlyList<SoundCandidate> candidates, IReadOnlyDictionary<string, string> chosen, string folder = "")
    {
        var results = new Dictionary<string, LinkResult>();
        var open = new List<Media>();
        foreach (var media in wanted)
        {
            if (chosen.TryGetValue(media.Id, out var choice) && (choice.Length == 0 || candidates.Any(c => c.Id == choice)))
            {
                results[media.Id] = choice.Length == 0 ? new LinkResult(null, "left missing, as chosen", []) : new LinkResult(choice, "chosen by hand", []);
            }
            else
            {
                open.Add(media);
            }
        }

        var byName = candidates.ToLookup(c => Comparable(c.Name));
        var byFacts = candidates.ToLookup(c => (c.Rate, c.Channels, c.Length));
        var byHash = candidates.Where(c => c.Sha256 is not null).ToLookup(c => c.Sha256!);
        var byUmid = candidates.Where(c => c.Umid is not null).ToLookup(c => c.Umid!);
        var taken = results.Values.Select(r => r.Bound).OfType<string>().ToHashSet();
        var weighed = new List<(Media Media, List<Evidence> Evidence)>();
        foreach (var media in open)
        {
            var near = MediaNames.Of(media).SelectMany(n => byName[Comparable(LastPart(n))])
                .Concat(byFacts[(media.Rate, media.Channels, media.Length)])
                .Concat(media.Sha256 is { } hash ? byHash[hash] : [])
                .Concat(media.Identifiers.SelectMany(MobId.Forms).SelectMany(i => byUmid[i]))
                .DistinctBy(c => c.Id);
            var evidence = near.Select(c => Weigh(media, needed.GetValueOrDefault(media.Id), c, folder)).OrderByDescending(e => e.Weight).ToList();
            weighed.Add((media, evidence));

            // Two files with everything in common are the same file twice; of others only one may be beyond doubt.
            if (evidence.Count > 0 && evidence[0].IsCertain)
            {
                results[media.Id] = new LinkResult(evidence[0].Candidate, $"found by {evidence[0].For[0]}", []);
                taken.Add(evidence[0].Candidate);
            }
        }

        foreach (var (media, evidence) in weighed.Where(w => !results.ContainsKey(w.Media.Id)))
        {
            var left = evidence.Where(e => e.Weight >= Worthwhile && !taken.Contains(e.Candidate)).Take(MostDoubtful).ToValueArray();
            results[media.Id] = new LinkResult(null, left.Count == 0 ? "nothing that was brought in fits" : "in doubt: choose", left);
        }

        return results;
    }

    private static Evidence Weigh(Media media, long needed, SoundCandidate file, string folder)
    {
        var (weight, pro, con) = (0, new List<string>(), new List<string>());
        void For(int by, string what)
        {
            weight += by;
            pro.Add(what);
        }

        void Against(int by, string what)
        {
            weight -= by;
            con.Add(what);
        }

        if (media.Sha256 is { } hash)
        {
            if (hash == file.Sha256)
            {
                // Of two files with the same bytes the one of the right name is meant.
                For(1000, "hash");
            }
            else
            {
                Against(1000, "its hash is another");
            }
        }

        var names = MediaNames.Of(media).Select(LastPart).ToList();
        if (names.Exists(n => SameName.Comparer.Equals(n, file.Name)))
        {
            For(60, "name");
        }
        else if (names.Exists(n => Comparable(n) == Comparable(file.Name)))
        {
            For(40, "name, written for another system");
        }

        if (file.Umid is { } umid && media.Identifiers.SelectMany(MobId.Forms).Contains(umid))
        {
            For(120, "identifier");
        }

        if (MediaNames.StartOf(media) is ( >= TellingStart and var bytes, var start) && file.StartHash(bytes) == start)
        {
            For(110, "the start of the file");
        }

        if (names.Exists(n => folder + n == file.Path))
        {
            For(10, "its place beside the document");
        }

        Facts(media, needed, file, For, Against);
        return new Evidence(file.Id, file.Path, weight, pro.ToValueArray(), con.ToValueArray());
    }

    private static void Facts(Media media, long needed, SoundCandidate file, Action<int, string> pro, Action<int, string> con)
    {
        // Clips point at channels that were said; a file with fewer is another file.
        if (file.Channels < media.Channels)
        {
            con(200, $"it has {file.Channels} of {media.Channels} channels");
        }

        if (file.Rate != media.Rate)
        {
            con(50, $"its rate is {file.Rate}, not {media.Rate}");
        }

        if (media.Length > 0 && file.Length == media.Length && file.Rate == media.Rate && file.Channels == media.Channels)
        {
            pro(40, "length, rate and channels");
        }
        else if (needed > file.Length)
        {
            con(60, $"clips need {Digits.Grouped(needed)} samples and it has {Digits.Grouped(file.Length)}");
        }
        else if (media.Length == 0 || file.Length >= needed)
        {
            // Lengths are often written wrong; a file long enough for every clip is not refuted by that.
            pro(media.Length == 0 ? 40 : 30, "room for every clip");
            if (media.Length > 0 && file.Length != media.Length)
            {
                con(0, $"it has {Digits.Grouped(file.Length)} samples and {Digits.Grouped(media.Length)} were said");
            }
        }

        if (media.TimeReference is { } stamp && file.TimeReference is { } other)
        {
            if (stamp == other)
            {
                pro(65, "time stamp");
            }
            else
            {
                con(30, "its time stamp is another");
            }
        }
    }

    private static string LastPart(string name) => name.Replace('\\', '/').Split('/')[^1];

    // As systems that refuse some characters would have written it; accents as one or as two characters.
    private static string Comparable(string name) => LegalName.From(LastPart(name)).ToUpperInvariant();
}
