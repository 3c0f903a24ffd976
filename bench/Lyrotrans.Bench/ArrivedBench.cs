using System.Diagnostics;
using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Bench;

/// <summary>Times the comparison of a session of many clips with what came back of it: every name, identifier and order is another, a few clips are moved, and no sound says what is what.</summary>
internal static class ArrivedBench
{
    private const int Tracks = 48;
    private const int Rounds = 3;

    public static void Run(int count)
    {
        var sent = Sent(count);
        var found = Found(sent);
        for (var round = 0; round < Rounds; round++)
        {
            var clock = Stopwatch.StartNew();
            var report = ArrivalComparison.Compare(SentSession.Whole(new ArrivalSide(sent, null, true)), new ArrivalSide(found, null, true), SoundOrigins.None);
            Console.WriteLine($"{Digits.Grouped(report.Dots.Count)} clips: {clock.Elapsed.TotalSeconds:0.00} s; {report.BasisWords} {Phrases.Count(report.Rows.Count, "difference")}");
        }
    }

    private static Session Sent(int count)
    {
        var random = new Random(11);
        var media = Enumerable.Range(0, 10 * Tracks).Select(i => new Media { Id = $"m{i}", FileName = $"take {i}.wav", Length = 48_000_000 }).ToList();
        var tracks = Enumerable.Range(0, Tracks).Select(t =>
        {
            long at = random.Next(1000, 100_000);
            var clips = Enumerable.Range(0, count / Tracks).Select(c =>
            {
                var clip = new Clip { Id = $"{t}-{c}", Name = $"clip {c}", Media = media[(t * 10) + random.Next(10)].Id, Start = at, Length = random.Next(2_000, 90_000), SourceOffset = random.Next(0, 40_000_000), FadeIn = new Fade(480), FadeOut = new Fade(480) };
                at = clip.End + random.Next(1, 5_000);
                return clip;
            });
            return new Track { Id = $"t{t}", Name = $"Track {t}", Lanes = [new Lane("main", [.. clips])] };
        }).ToList();
        return new Session { Name = "bench", Media = [.. media], Tracks = [.. tracks] };
    }

    private static Session Found(Session sent)
    {
        var random = new Random(12);
        var names = sent.Media.ToDictionary(m => m.Id, _ => $"{random.Next():x}{random.Next():x}");
        return sent with
        {
            Media = [.. sent.Media.OrderBy(_ => random.Next()).Select(m => m with { Id = names[m.Id], FileName = $"{names[m.Id]}.wav" })],
            Tracks = [.. sent.Tracks.OrderBy(_ => random.Next()).Select((t, n) => t with { Id = $"o{n}", Lanes = [new Lane("main", [.. t.Lanes[0].Clips.Select((c, k) => c with { Id = $"{n}/{k}", Media = names[c.Media], Start = c.Start + 48_000 + (random.Next(100) == 0 ? random.Next(1, 50) : 0) })])] })],
        };
    }
}
