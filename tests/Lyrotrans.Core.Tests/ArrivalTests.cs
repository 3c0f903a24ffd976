using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>What another program made of a session: names, order, identifiers and units are others in every case, and what it changed is said, and nothing else.</summary>
public sealed class ArrivalTests
{
    private static readonly FrameRate s_frames = FrameRate.All.Single(f => f.Name == "25");

    /// <summary>A session with clips of all kinds: one medium for a track, one that several share, one-shots that are the same clip again and again, and single clips.</summary>
    private static Session Sent(int seed)
    {
        var random = new Random(seed);
        var tracks = new List<Track>();
        var media = new List<Media>();
        Media Medium(string id, long length)
        {
            media.Add(new Media { Id = id, FileName = $"{id}.wav", Length = length, Identifiers = [$"urn:{id}"] });
            return media[^1];
        }

        for (var t = 0; t < 6; t++)
        {
            var medium = Medium($"m{t}", 40_000_000);
            var clips = new List<Clip>();
            long at = random.Next(1, 90_000);
            for (var c = 0; c < 30; c++)
            {
                var length = random.Next(5_000, 200_000);
                clips.Add(new Clip
                {
                    Id = $"{t}-{c}",
                    Name = $"take {t} clip {c}",
                    Media = medium.Id,
                    Start = at,
                    Length = length,
                    SourceOffset = random.Next(0, 30_000_000),
                    GainDb = c % 3 == 0 ? 0 : Math.Round((random.NextDouble() * 12) - 8, 2),
                    FadeIn = c % 2 == 0 ? Fade.None : new Fade(random.Next(100, 2000)),
                    FadeOut = new Fade(random.Next(0, 2) * 480, FadeShape.EqualPower),
                });
                at += length + random.Next(1, 60_000);
            }

            tracks.Add(new Track { Id = $"t{t}", Name = $"Track {t}", Pan = t % 3 - 1, Lanes = [new Lane("main", [.. clips])] });
        }

        var shot = Medium("shot", 96_000);
        tracks.Add(new Track { Id = "timpani", Name = "Timpani", Lanes = [new Lane("main", [.. Enumerable.Range(0, 40).Select(i => new Clip { Id = $"s-{i}", Name = $"hit {i}", Media = shot.Id, Start = 50_000 + (i * 61_003L), Length = 48_000, SourceOffset = 0, GainDb = -i / 10.0 })])] });
        var whole = Medium("bell", 500_000);
        tracks.Add(new Track { Id = "bell", Name = "Bell", Lanes = [new Lane("main", [new Clip { Id = "b", Name = "bell", Media = whole.Id, Start = 1_920_077, Length = 500_000 }])] });
        return new Session { Name = "Orrery", Start = Timecode.FromLabel(10, 0, 0, 0, s_frames), Tracks = [.. tracks], Media = [.. media], Markers = [new Marker("a", "Dome opens", 96_000), new Marker("z", "Planet rise", 777_777)] };
    }

    /// <summary>The same session as another program would write it: everything that is only a name is another, and tracks and media lie in another order.</summary>
    private static (Session Found, IReadOnlyDictionary<string, string> Media) Renamed(Session sent, int seed)
    {
        var random = new Random(seed);
        var media = sent.Media.ToDictionary(m => m.Id, _ => $"x{random.Next():x}{random.Next():x}");
        var tracks = sent.Tracks.OrderBy(_ => random.Next()).Select((t, i) => t with
        {
            Id = $"other-{i}",
            Name = t.Name,
            Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select((c, n) => c with { Id = $"c-{i}-{n}", Media = media[c.Media] })] })],
        });
        return (sent with { Name = "imported", Tracks = [.. tracks], Media = [.. sent.Media.OrderBy(_ => random.Next()).Select(m => m with { Id = media[m.Id], FileName = $"{random.Next():x}.wav", Identifiers = [] })] }, media);
    }

    private static ArrivalReport Compared(Session sent, Session found, IReadOnlyDictionary<string, FoundOrigin> origins) =>
        ArrivalComparison.Compare(SentSession.Whole(new ArrivalSide(sent, null, true)), new ArrivalSide(found, null, true), SoundOrigins.None with { Known = origins });

    private static IReadOnlyDictionary<string, FoundOrigin> BySound(IReadOnlyDictionary<string, string> media) => media.ToDictionary(m => m.Value, m => new FoundOrigin(m.Key, 0, ArrivalBasis.Sound));

    private static Session With(Session session, Func<Track, Clip, Clip?> change) =>
        session with { Tracks = [.. session.Tracks.Select(t => t with { Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => change(t, c)).OfType<Clip>().OrderBy(c => c.Start)] })] })] };

    public static TheoryData<bool, int> Ways => new MatrixTheoryData<bool, int>([true, false], Enumerable.Range(1, 5)) is var all ? [.. all.Select(r => (r.Data.Item1, r.Data.Item2))] : [];

    // Without sound and names the one clip of the bell has nothing but its place.
    private static string Unsure(bool sound) => sound ? string.Empty : " 1 clip is known by place alone: unsure.";

    private static ArrivalReport Compare(bool sound, int seed, Func<Session, Session> change)
    {
        var sent = Sent(seed);
        var (found, media) = Renamed(sent, seed + 100);
        return Compared(sent, change(found), sound ? BySound(media) : new Dictionary<string, FoundOrigin>());
    }

    [Theory]
    [MemberData(nameof(Ways))]
    public void What_is_the_same_under_other_names_is_said_to_be_the_same(bool sound, int seed)
    {
        var report = Compare(sound, seed, s => s);
        Assert.Equal($"All 221 clips arrived as sent.{Unsure(sound)}", report.Verdict);
        Assert.Equal(sound, report.IsSame);
        Assert.Equal(221, report.Bases.Values.Sum());
        Assert.Empty(report.Added);
        Assert.All(report.Dots, d => Assert.Equal(0, d.Offset));

        Assert.Equal(sound ? 221 : 0, report.Bases.GetValueOrDefault(ArrivalBasis.Sound));
        Assert.True(sound || report.Bases[ArrivalBasis.Source] >= 180);
    }

    [Theory]
    [MemberData(nameof(Ways))]
    public void Names_that_are_all_others_keep_nothing_from_being_known_again(bool sound, int seed)
    {
        var report = Compare(sound, seed, s => With(s with { Tracks = [.. s.Tracks.Select((t, i) => t with { Name = $"Audio {i}" })] }, (t, c) => c with { Name = "Region" }));
        Assert.Equal(["221 clips have other names, such as Region for ", "8 tracks have other names."], report.Causes.Select(c => c.StartsWith("221", StringComparison.Ordinal) ? c[..47] : c));
        Assert.Empty(report.Rows);
        Assert.Equal(0, report.Missing);
    }

    [Theory]
    [MemberData(nameof(Ways))]
    public void A_shift_of_all_is_said_once_and_what_differs_beyond_it_alone(bool sound, int seed)
    {
        var report = Compare(sound, seed, s => With(s, (t, c) => c with { Start = c.Start + 48_000 + (c.Name == "take 2 clip 3" ? -1 : c.Name == "take 4 clip 0" ? 480 : 0) }) with { Markers = [.. s.Markers.Select(m => m with { Sample = m.Sample + 48_000 })] });
        Assert.Equal(["Everything is 48\u202f000 samples late."], report.Causes);
        Assert.Equal(2, report.Rows.Count);
        Assert.Equal(["+480", "−1"], report.Rows.Select(r => r.Difference).Order(StringComparer.Ordinal));
        Assert.All(report.Rows, r => Assert.Equal("start", r.What));
        Assert.Equal(2, report.Dots.Count(d => d.Offset != 0));
    }

    [Theory]
    [MemberData(nameof(Ways))]
    public void Frames_that_all_places_were_rounded_to_are_said_once(bool sound, int seed)
    {
        static long Round(long sample) => (long)Math.Round(sample / 1920.0) * 1920;
        var report = Compare(sound, seed, s => With(s, (t, c) => c with { Start = Round(c.Start) }) with { Markers = [.. s.Markers.Select(m => m with { Sample = Round(m.Sample) })] });
        Assert.Equal(["All places are rounded to frames of 1\u202f920 samples."], report.Causes);
        Assert.Empty(report.Rows);
    }

    [Theory]
    [MemberData(nameof(Ways))]
    public void What_is_missing_added_slipped_and_cut_is_each_said_of_its_clip(bool sound, int seed)
    {
        var victim = string.Empty;
        var report = Compare(sound, seed, s =>
        {
            var track = s.Tracks.First(t => t.Lanes[0].Clips.Count == 30).Id;
            string Id(int n) => s.Tracks.Single(t => t.Id == track).Lanes[0].Clips[n].Id;
            var (gone, slipped, cut, shorter, louder, faded) = (Id(4), Id(9), Id(14), Id(19), Id(23), Id(27));
            victim = s.Tracks.Single(t => t.Id == track).Name;
            return With(s, (t, c) => c.Id == gone ? null
                : c.Id == slipped ? c with { SourceOffset = c.SourceOffset + 480 }
                : c.Id == cut ? c with { Start = c.Start + 100, SourceOffset = c.SourceOffset + 100, Length = c.Length - 100 }
                : c.Id == shorter ? c with { Length = c.Length - 7 }
                : c.Id == louder ? c with { GainDb = c.GainDb + 0.04 }
                : c.Id == faded ? c with { FadeIn = new Fade(c.FadeIn.Length + 333) }
                : c);
        });
        var what = report.Rows.ToDictionary(r => r.What);
        Assert.Equal(6, report.Rows.Count);
        Assert.All(report.Rows, r => Assert.StartsWith(victim, r.Subject, StringComparison.Ordinal));
        Assert.Equal("missing", what["whole clip"].Difference);
        Assert.Equal("+480", what["place in its sound"].Difference);
        Assert.Equal("+100", what["start, cut or drawn out"].Difference);
        Assert.Equal("−7", what["length"].Difference);
        Assert.Equal("+0.04 dB", what["gain"].Difference);
        Assert.Equal("+333", what["fade in"].Difference);
        Assert.Equal($"1 clip missing. 5 things differ.{Unsure(sound)}", report.Verdict);
        Assert.Single(report.Dots, d => d.Offset is null);
        Assert.Single(report.Dots, d => d.Slipped);
    }

    [Theory]
    [MemberData(nameof(Ways))]
    public void Of_hits_that_are_all_the_same_clip_the_one_that_is_missing_is_named(bool sound, int seed)
    {
        var report = Compare(sound, seed, s => With(s, (t, c) => c.Name == "hit 17" ? null : c));
        Assert.Equal("Timpani, hit 17", Assert.Single(report.Rows).Subject);
        Assert.Equal(1, report.Missing);
        var moved = Compare(sound, seed, s => With(s, (t, c) => c.Name == "hit 17" ? c with { Start = c.Start + 250 } : c));
        Assert.Equal(("Timpani, hit 17", "start", "+250"), (moved.Rows[0].Subject, moved.Rows[0].What, moved.Rows[0].Difference));
        Assert.Single(moved.Rows);
        var more = Compare(sound, seed, s => With(s, (t, c) => c) is var same ? same with { Tracks = [.. same.Tracks.Select(t => t.Name == "Timpani" ? t with { Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Append(l.Clips[3] with { Id = "new", Name = "one more", Start = 9_000_000 })] })] } : t)] } : s);
        Assert.Equal(["Timpani, one more"], more.Added);
        Assert.Empty(more.Rows);
    }

    [Fact]
    public void What_all_have_in_common_is_a_cause_and_not_a_row_for_each()
    {
        static IReadOnlyList<string> Causes(Func<Session, Session> change) => Compare(true, 3, change) is { Rows.Count: 0 } report ? report.Causes : ["there are rows"];
        Assert.Equal(["No clip gain came: 159 clips play at unity."], Causes(s => With(s, (t, c) => c with { GainDb = 0 })));
        Assert.StartsWith("Clip gains are rounded to tenths of a dB on ", Causes(s => With(s, (t, c) => c with { GainDb = Math.Round(c.GainDb, 1) }))[0], StringComparison.Ordinal);
        Assert.StartsWith("No fade came: ", Causes(s => With(s, (t, c) => c with { FadeIn = Fade.None, FadeOut = Fade.None }))[0], StringComparison.Ordinal);
        Assert.StartsWith("Names are cut to 6 characters on 180 clips.", Causes(s => With(s, (t, c) => c with { Name = c.Name[..Math.Min(6, c.Name.Length)] }))[0], StringComparison.Ordinal);
        Assert.Contains("Pan came in the centre on 4 tracks: set ", Causes(s => s with { Tracks = [.. s.Tracks.Select(t => t with { Pan = 0 })] })[0], StringComparison.Ordinal);
        Assert.Equal(["The start there is 09:59:59:24, and 10:00:00:00 was sent: set the start, do not move the clips."], Causes(s => s with { Start = Timecode.FromLabel(9, 59, 59, 24, s_frames) }));
    }

    [Fact]
    public void Another_rate_moves_nothing_but_by_its_rounding()
    {
        var sent = Sent(7);
        var (found, media) = Renamed(sent, 8);
        var doubled = With(found, (t, c) => c with { Start = 2 * c.Start, Length = 2 * c.Length, FadeIn = c.FadeIn with { Length = 2 * c.FadeIn.Length }, FadeOut = c.FadeOut with { Length = 2 * c.FadeOut.Length } }) with { Rate = new SampleRate(96_000), Markers = [.. found.Markers.Select(m => m with { Sample = 2 * m.Sample })] };
        var report = Compared(sent, doubled, BySound(media));
        Assert.Single(report.Causes, c => c.StartsWith("The session there is at 96\u202f000 Hz", StringComparison.Ordinal));
        Assert.Empty(report.Rows);
        Assert.Equal(0, report.Missing);
    }

    [Fact]
    public void Media_that_were_trimmed_and_renamed_are_known_by_the_pattern_of_their_clips()
    {
        var sent = Sent(9);
        var (found, media) = Renamed(sent, 10);
        var first = found.Tracks.SelectMany(t => t.Lanes[0].Clips).GroupBy(c => c.Media).ToDictionary(g => g.Key, g => g.Min(c => c.SourceOffset));
        var trimmed = With(found, (t, c) => c with { SourceOffset = c.SourceOffset - first[c.Media] });
        var report = Compared(sent, trimmed, new Dictionary<string, FoundOrigin>());
        Assert.DoesNotContain(report.Rows, r => r.What != "place in its sound");
        Assert.True(report.Bases[ArrivalBasis.Source] >= 180, report.BasisWords);
        Assert.Equal(0, report.Missing);
    }

    [Fact]
    public void Another_session_is_not_taken_for_this_one()
    {
        var (other, _) = Renamed(Sent(1234), 5);
        var moved = other with { Tracks = [.. other.Tracks.Where(t => t.Lanes[0].Clips.Count == 30).Take(3)] };
        var report = Compared(Sent(1), moved, new Dictionary<string, FoundOrigin>());
        Assert.StartsWith("No clip that was sent is there.", report.Verdict, StringComparison.Ordinal);
        Assert.Equal(0, report.Bases.GetValueOrDefault(ArrivalBasis.Source) + report.Bases.GetValueOrDefault(ArrivalBasis.Sound));
        Assert.NotEmpty(report.Added);
        var nothing = Compared(new Session { Name = "nothing", Start = Sent(1).Start }, Sent(1), new Dictionary<string, FoundOrigin>());
        Assert.Equal("No clip was sent, so there is none to compare. 221 clips are of nothing that was sent.", nothing.Verdict);
        Assert.False(nothing.IsSame);
        var empty = Compared(Sent(1), new Session { Name = "empty" }, new Dictionary<string, FoundOrigin>());
        Assert.Equal(221, empty.Missing);
    }
}
