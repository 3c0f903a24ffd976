using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Rehearsing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Rehearsing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A package read back as its receiver's program would read it.</summary>
public sealed class RehearsalTests(RehearsalPackages packages) : IClassFixture<RehearsalPackages>, IDisposable
{
    private readonly string _scratch = Directory.CreateTempSubdirectory("lyro-rehearsal-").FullName;
    private DeliveryPlan _plan = null!;
    private Rehearsal _last = null!;

    public void Dispose() => Directory.Delete(_scratch, recursive: true);

    private RehearsalReport Read(ReadingLimits limits, bool clips = true)
    {
        var (plan, files) = clips ? packages.Clips : packages.Files;
        (_plan, _last) = (plan, Rehearsal.Of(files, plan, limits, _scratch, CancellationToken.None));
        return _last.Report(_ => { }, CancellationToken.None);
    }

    private static ReadingLimits Without(params ReadingLimit[] unread) => new(unread);

    private static string All(RehearsalReport report) => $"{report.Verdict} | {string.Join("; ", report.Moves.Rows.Take(6))} | {string.Join("; ", report.Sounds.Where(s => !s.IsSame).Take(6))}";

    private IEnumerable<Clip> SentClips => _plan.Clips!.Session.Tracks.Where(t => t.Kind == TrackKind.Audio).SelectMany(t => t.Sounding!.Clips);

    [Fact]
    public void A_program_that_reads_everything_gets_everything_where_it_was_sent()
    {
        var report = Read(ReadingLimits.None);
        Assert.True(report.IsSame, All(report));
        Assert.True(report.Moves.Dots.Count > 200, All(report));
        Assert.Contains("sounds as it was sent", report.Verdict, StringComparison.Ordinal);
    }

    [Fact]
    public void Whole_frames_move_every_clip_that_lies_between_two_and_what_that_leaves_is_measured()
    {
        var report = Read(Without(ReadingLimit.BetweenFrames));
        Assert.Contains($"All places are rounded to frames of {Digits.Grouped(1920)} samples.", report.Moves.Causes);
        var between = SentClips.Where(c => c.Start % 1920 != 0 && !c.Muted).ToList();
        Assert.NotEmpty(between);
        Assert.Contains(report.Sounds, s => !s.IsSame);
        foreach (var track in _plan.Clips!.Session.Tracks.Where(t => t.Kind == TrackKind.Audio))
        {
            var sound = report.Sounds.Single(s => s.Track == track.Id);
            var whole = track.Sounding!.Clips.Where(c => !c.Muted).All(c => c.Start % 1920 == 0 && c.End % 1920 == 0);
            Assert.True(!whole || sound.IsSame, $"{sound}");
        }
    }

    [Fact]
    public void Gain_that_is_not_read_leaves_just_what_it_took_away()
    {
        var report = Read(Without(ReadingLimit.ClipGain));
        var gained = _plan.Clips!.Session.Tracks.Where(t => t.Kind == TrackKind.Audio && t.Sounding!.Clips.Any(c => !c.Muted && (c.GainDb != 0 || c.GainCurve is not null))).Select(t => t.Id).ToHashSet();
        Assert.NotEmpty(gained);
        Assert.Equal(gained, report.Sounds.Where(s => !s.IsSame).Select(s => s.Track).ToHashSet());

        // By hand: the sound at the loudest place, once with the gain and once without it.
        var loud = report.Sounds.Where(s => !s.IsSame).MaxBy(s => s.LeftDb)!;
        using var track = _last.Open(loud.Track)!;
        var (sent, read) = (new[] { new double[1], new double[1] }, new[] { new double[1], new double[1] });
        track.ReadSent(loud.LoudestAt, 1, sent);
        track.ReadBack(loud.LoudestAt, 1, read);
        var left = Enumerable.Range(0, 2).Max(c => Math.Abs(sent[c][0] - read[c][0]));
        Assert.Equal(loud.LeftDb, 20 * Math.Log10(left), 6);
        var gains = _plan.Clips.Session.Tracks.Single(t => t.Id == loud.Track).Sounding!.Clips.Where(c => c.Start <= loud.LoudestAt && loud.LoudestAt < c.End && c.GainDb != 0).ToList();
        if (gains is [{ GainCurve: null } only])
        {
            Assert.Equal(sent[0][0], read[0][0] * Math.Pow(10, only.GainDb / 20), 6);
        }
    }

    [Fact]
    public void Where_no_crossfade_is_read_the_later_clip_cuts_the_earlier_and_no_two_sound_at_once()
    {
        var report = Read(Without(ReadingLimit.Crossfades));
        var crossed = _plan.Clips!.Session.Tracks.Where(t => t.Sounding?.Clips.Zip(t.Sounding.Clips.Skip(1)).Any(p => p.First.End > p.Second.Start) ?? false).Select(t => t.Id).ToHashSet();
        Assert.NotEmpty(crossed);
        Assert.All(_last.There.Tracks.SelectMany(t => t.Lanes), l => Assert.All(l.Clips.Zip(l.Clips.Skip(1)), p => Assert.True(p.First.End <= p.Second.Start)));
        Assert.Equal(crossed, report.Sounds.Where(s => !s.IsSame).Select(s => s.Track).ToHashSet());
        Assert.Contains(report.Moves.Rows, r => r.What == "fade out");
        Assert.Equal(0, report.Moves.Missing);
    }

    [Fact]
    public void A_second_channel_that_is_not_read_is_lost_and_named()
    {
        var report = Read(Without(ReadingLimit.Channels));
        Assert.Contains(report.Moves.Rows, r => r is { What: "channels", Sent: "stereo", Found: "mono" });
        Assert.All(report.Sounds.Where(s => !s.IsSame), s => Assert.InRange(_last.There.Media.Single(m => m.Id == MediumOf(s.Track)).Channels, 2, 4));
    }

    private string MediumOf(string track) => _last.There.Tracks.Single(t => t.Id == track).Sounding!.Clips[0].Media;

    [Fact]
    public void Names_are_cut_and_freed_of_marks_and_nothing_else_is_another()
    {
        var report = Read(new ReadingLimits([], LongestName: 8, NameLetters.Plain));
        Assert.All(_last.There.Tracks, t => Assert.True(t.Name.Length <= 8 && t.Name.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_'), t.Name));
        Assert.All(report.Sounds, s => Assert.True(s.IsSame, s.ToString()));
        Assert.Empty(report.Moves.Rows);
        Assert.Contains(report.Moves.Causes, c => c.Contains("other names", StringComparison.Ordinal));
    }

    [Fact]
    public void Another_rate_moves_nothing_by_more_than_half_a_sample_of_it()
    {
        var report = Read(new ReadingLimits([], Hz: 44_100));
        Assert.Contains(Digits.Grouped(44_100), report.Moves.Verdict, StringComparison.Ordinal);
        Assert.Equal(44_100, (int)_last.There.Rate.PerSecond.ToDouble());
        Assert.All(report.Moves.Rows.Where(r => r.What == "start"), r => Assert.True(Math.Abs(long.Parse(r.Difference.Replace("−", "-", StringComparison.Ordinal).Replace("+", string.Empty, StringComparison.Ordinal), System.Globalization.CultureInfo.InvariantCulture)) <= 1, r.ToString()));
    }

    [Fact]
    public void Notes_of_several_tracks_come_on_one()
    {
        var report = Read(Without(ReadingLimit.MidiTracks));
        Assert.Contains("All notes came on one track.", report.Moves.Causes);
        Assert.All(report.Sounds, s => Assert.True(s.IsSame, s.ToString()));
    }

    [Fact]
    public void Where_clips_are_not_read_they_are_missed_and_tracks_that_went_as_files_too_are_not()
    {
        var report = Read(Without(ReadingLimit.Clips));
        Assert.Equal(SentClips.Count(), report.Moves.Missing);
        Assert.All(report.Sounds.Where(s => !s.IsThere), s => Assert.Equal(s.PeakDb, s.LeftDb));
        Assert.Contains(report.Sounds, s => s is { IsThere: false, IsSame: false });
    }

    [Fact]
    public void Mutes_fades_volume_and_pan_that_are_not_read_are_heard()
    {
        var report = Read(Without(ReadingLimit.Fades, ReadingLimit.Volume, ReadingLimit.Pan, ReadingLimit.Mutes));
        Assert.Contains(report.Moves.Causes, c => c.StartsWith("No fade came", StringComparison.Ordinal));
        var there = _last.There.Tracks.Where(t => t.Lanes.Count > 0).ToList();
        Assert.All(there, t => Assert.Equal((0.0, null, 0.0, null), (t.FaderDb, t.FaderAutomation, t.Pan, t.PanAutomation)));
        Assert.All(there.SelectMany(t => t.Lanes).SelectMany(l => l.Clips), c => Assert.True(!c.Muted && c.FadeIn.Length == 0 && c.FadeOut.Length == 0));
        Assert.Contains(report.Sounds, s => !s.IsSame);
    }

    [Fact]
    public void Files_from_the_start_are_read_as_they_are_but_for_their_channels()
    {
        var same = Read(Without(ReadingLimit.BetweenFrames, ReadingLimit.Crossfades, ReadingLimit.ClipGain), clips: false);
        Assert.True(same.IsSame, All(same));
        var mono = Read(Without(ReadingLimit.Channels), clips: false);
        Assert.Contains(mono.Sounds, s => !s.IsSame);
    }
}
