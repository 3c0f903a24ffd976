using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Rates;

/// <summary>
/// Finds sound files whose header says a wrong rate: by what other parts of the file say, by what the session's document says, by the clips that show
/// the whole file, and by the files beside it. None of these proves anything, so people decide.
/// </summary>
/// <param name="sounds">All sound files of the session.</param>
/// <param name="session">With the rates that headers say.</param>
public sealed class RateFinder(IReadOnlyList<SoundRate> sounds, Session session)
{
    // What is shorter may be as long as another by chance.
    private const int LeastSeconds = 1;
    private const int LeastNeighbours = 2;

    // In samples of the session, for what careless conversion leaves over.
    private const int Tolerance = 2;
    private readonly ILookup<long, SoundRate> _byFrames = sounds.ToLookup(s => s.Frames);
    private readonly List<(SampleRate Rate, long Frames, int Count)> _sets = Sets(sounds);
    private readonly Lazy<ILookup<string, (Track Track, Clip Clip)>> _clips = new(() => session.Tracks
        .SelectMany(t => t.Lanes.SelectMany(l => l.Clips.Select(c => (Track: t, Clip: c)))).ToLookup(p => p.Clip.Media));

    /// <summary>Rates that sound is recorded at, and those pulled down and up by a thousandth.</summary>
    public static IReadOnlyList<SampleRate> Usual { get; } =
    [
        .. new[] { 22_050, 32_000, 44_100, 48_000, 88_200, 96_000, 176_400, 192_000 }.Select(hz => SampleRate.FromHz(hz)),
        .. new[] { 44_100, 48_000 }.SelectMany(hz => new[] { new Rational(hz * 1000, 1001), new Rational(hz * 1001, 1000) }).Select(r => new SampleRate(r)),
    ];

    /// <summary>Whether sound can have been recorded at a rate: from 4000 samples a second to a million.</summary>
    public static bool IsLikely(Rational perSecond) => perSecond >= 4000 && perSecond <= 1_000_000;

    /// <summary>In the order of the files.</summary>
    public IReadOnlyList<RateDoubt> Doubts() => [.. sounds.Select(Doubt).OfType<RateDoubt>()];

    /// <summary>A rate in words, such as <c>48 000 Hz</c> or <c>48 000 Hz pulled down</c>.</summary>
    public static string Words(SampleRate rate)
    {
        var hz = rate.PerSecond;
        return hz.IsWhole ? $"{Digits.Grouped(rate.HeaderHz)} Hz"
            : (hz * 1001 / 1000).IsWhole ? $"{Digits.Grouped((hz * 1001 / 1000).RoundToEven())} Hz pulled down"
            : (hz * 1000 / 1001).IsWhole ? $"{Digits.Grouped((hz * 1000 / 1001).RoundToEven())} Hz pulled up"
            : FormattableString.Invariant($"{hz.ToDouble():0.###} Hz");
    }

    private RateDoubt? Doubt(SoundRate sound)
    {
        if (sound.Frames < sound.Header.SamplesIn(LeastSeconds).Floor())
        {
            return null;
        }

        var likely = Own(sound).Concat(OfDocument(sound)).Concat(OfClips(sound)).Concat(OfAsLong(sound)).Concat(OfLength(sound))
            .GroupBy(e => e.Rate)
            .OrderByDescending(g => g.Count()).ThenBy(g => g.Key == session.Rate ? 0 : 1)
            .FirstOrDefault();
        return likely is null ? null : new RateDoubt(sound, likely.Key, likely.Select(e => e.Reason).Distinct().ToValueArray());
    }

    private static IEnumerable<(SampleRate Rate, string Reason)> Own(SoundRate sound) =>
        sound.Words.Where(w => w.Rate != sound.Header).Select(w => (w.Rate, $"{w.Says} says {Words(w.Rate)}"));

    // A document that counts as many samples at another rate means the same file; one that counts others means the same time.
    private static IEnumerable<(SampleRate Rate, string Reason)> OfDocument(SoundRate sound)
    {
        if (sound.Described is { } said && said.Rate != sound.Header && said.Length == sound.Frames)
        {
            yield return (said.Rate, $"the session says {Words(said.Rate)} for as many samples");
        }
    }

    // A clip that shows the whole file is as long as it, at the rate that it was played at.
    private IEnumerable<(SampleRate Rate, string Reason)> OfClips(SoundRate sound)
    {
        foreach (var (track, clip) in _clips.Value[sound.MediaId].Where(p => p.Clip.SourceOffset == 0))
        {
            var found = Usual.Where(r => r != sound.Header && IsWhole(clip, sound, r)).ToList();
            if (found.Count > 0 && !IsWhole(clip, sound, sound.Header))
            {
                yield return (found[0], $"its clip on {track.Name} is as long as the whole file at {Words(found[0])}");
            }
        }
    }

    private bool IsWhole(Clip clip, SoundRate sound, SampleRate rate) => Math.Abs(rate.Convert(sound.Frames, session.Rate) - clip.Length) <= 1;

    // As many samples as the others have, under another rate: they were recorded together.
    private IEnumerable<(SampleRate Rate, string Reason)> OfAsLong(SoundRate sound)
    {
        var rates = _byFrames[sound.Frames].GroupBy(s => s.Header).ToList();
        var own = rates.First(g => g.Key == sound.Header).Count();
        return rates.Where(g => g.Key != sound.Header && (g.Count() > own || (g.Count() == own && g.Key == session.Rate)))
            .Select(g => (g.Key, $"it has as many samples as {Files(g.Count())} of {Words(g.Key)}"));
    }

    // As long in time as the others of its rate would be, if its rate were another.
    private IEnumerable<(SampleRate Rate, string Reason)> OfLength(SoundRate sound)
    {
        foreach (var set in _sets.Where(s => s.Rate == sound.Header && s.Frames != sound.Frames))
        {
            var length = sound.Header.Convert(set.Frames, session.Rate);
            foreach (var rate in Usual.Where(r => r != sound.Header && Math.Abs(r.Convert(sound.Frames, session.Rate) - length) <= Tolerance))
            {
                yield return (rate, $"at {Words(rate)} it would be as long as {Files(set.Count)} beside it");
            }
        }
    }

    // Lengths that most files of a rate have: takes of one recording, not songs that happen to be as long as each other.
    private static List<(SampleRate Rate, long Frames, int Count)> Sets(IReadOnlyList<SoundRate> sounds) => [.. sounds.GroupBy(s => s.Header)
        .SelectMany(rate => rate.GroupBy(s => s.Frames).Where(g => g.Count() >= LeastNeighbours && g.Count() * 2 >= rate.Count()).Select(g => (rate.Key, g.Key, g.Count())))];

    private static string Files(int count) => count == 1 ? "another file" : $"{Digits.Grouped(count)} files";
}
