using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What goes without its sound is never certified, unless it was accepted by its name.</summary>
public sealed class SoundGapTests(DemoSession demo)
{
    private static Preparation Only(Preparation preparation, Treatment treatment, params string[] tracks) => preparation with
    {
        Tracks = preparation.Tracks.Select(c => c with { Treatment = tracks.Contains(c.TrackId) ? treatment : Treatment.HoldBack }).ToValueArray(),
    };

    /// <summary>The demo with one file of its media gone, and what that takes out of its session.</summary>
    private LoadedSession Without(string track)
    {
        var session = demo.Loaded.Session;
        var media = session.Tracks.First(t => t.Id == track).Sounding!.Clips.Select(c => c.Media).ToHashSet();
        return demo.Loaded with { Session = session with { Media = session.Media.Select(m => media.Contains(m.Id) ? m with { Place = MediaPlace.Missing } : m).ToValueArray() }, Media = new Hidden(demo.Loaded.Media, media) };
    }

    private sealed class Hidden(IMediaFiles files, IReadOnlySet<string> hidden) : IMediaFiles
    {
        public string Scratch => files.Scratch;

        public Core.Storing.IStoredFile? FileOf(Media media) => hidden.Contains(media.Id) ? null : files.FileOf(media);
    }

    private (DeliveryPlan Plan, ProofReport Report) Proved(Func<Preparation, Preparation> change, LoadedSession loaded)
    {
        var plan = demo.Plan(change, loaded);
        return (plan, demo.Prove(demo.Build(plan, loaded), plan, loaded));
    }

    [Theory]
    [InlineData(Treatment.PrintDry)]
    [InlineData(Treatment.PrintMixed)]
    [InlineData(Treatment.KeepClips)]
    public void Clips_whose_medium_is_missing_are_not_proved_and_count_as_lost(Treatment treatment)
    {
        var loaded = Without("swell");
        var clips = loaded.Session.Tracks.First(t => t.Id == "swell").Sounding!.Clips.Count;
        var (plan, report) = Proved(p => Only(p, treatment, "swell", "piano"), loaded);
        Assert.False(report.Passed);
        Assert.True(report.LacksSoundAlone, string.Join("\n", report.Rows.Where(r => !r.Passed)));
        Assert.Contains($"clips, {clips} without sound", report.Verdict);
        Assert.Contains(report.Rows, r => r.Code == "package.without-sound" && !r.Passed);
        Assert.DoesNotContain(report.Clips, c => c.Name.Contains("Swell", StringComparison.Ordinal));
        var row = CarryPlan.Of(plan).Rows[0];
        Assert.Equal(("Without sound", clips), (row.Kind, row.LostWithoutAWord));
    }

    [Fact]
    public void What_was_accepted_by_its_name_stands_in_the_verdict_and_on_the_sheet()
    {
        var loaded = Without("swell");
        var open = demo.Plan(p => Only(p, Treatment.PrintDry, "swell", "piano"), loaded).Gaps.All;
        var (plan, report) = Proved(p => Only(p, Treatment.PrintDry, "swell", "piano").Accepting(open.Select(g => g.Name)), loaded);
        Assert.True(report.Passed, report.Verdict);
        Assert.Contains("Accepted: ", report.Verdict);
        Assert.Equal(0, CarryPlan.Of(plan).LostWithoutAWord);
        using var package = PackageReader.Open(new DiskFile(demo.Build(plan, loaded)), "p.zip");
        Assert.Contains("accepted it", System.Text.Encoding.UTF8.GetString(package.Read($"{plan.Root}/Session_sheet.html")));
        Assert.All(package.Manifest.Gaps, g => Assert.True(g.IsAccepted));
        Assert.NotEmpty(package.Manifest.Gaps);
    }

    [Fact]
    public void A_medium_that_went_after_the_session_was_read_is_missing_too()
    {
        var loaded = Without("swell") with { Session = demo.Loaded.Session };
        var (plan, report) = Proved(p => Only(p, Treatment.PrintDry, "swell", "piano"), loaded);
        Assert.Empty(plan.Gaps.All);
        Assert.Contains("without sound", report.Verdict);
        Assert.False(report.Passed);
    }

    [Fact]
    public void Two_missing_media_of_one_name_are_both_counted()
    {
        var (one, two) = (Without("swell"), Without("piano"));
        var session = one.Session with
        {
            Media = [.. one.Session.Media.Zip(two.Session.Media, (a, b) => a.Place == MediaPlace.Missing || b.Place == MediaPlace.Missing ? a with { Place = MediaPlace.Missing, FileName = "same.wav" } : a)],
        };
        var clips = new[] { "swell", "piano" }.Sum(id => session.Tracks.First(t => t.Id == id).Sounding!.Clips.Count(c => !c.Muted));
        var gaps = demo.Plan(p => Only(p, Treatment.PrintDry, "swell", "piano"), one with { Session = session }).Gaps;
        Assert.Equal("missing same.wav", Assert.Single(gaps.All).Name);
        Assert.Contains($" {clips} without sound", gaps.Words(accepted: false));
        Assert.Equal(clips, gaps.SilentClips);
    }

    [Fact]
    public void Clips_that_are_held_back_or_are_only_the_record_lack_nothing()
    {
        var loaded = Without("swell");
        Assert.Empty(demo.Plan(p => Only(p, Treatment.PrintDry, "piano"), loaded).Gaps.All);
        Assert.True(Proved(p => Only(p, Treatment.PrintDry, "piano"), loaded).Report.Passed);
    }

    [Theory]
    [InlineData("channels")]
    [InlineData("length")]
    [InlineData("rate")]
    [InlineData("depth")]
    public void A_header_that_contradicts_the_session_is_not_proved(string what)
    {
        var session = demo.Loaded.Session;
        var used = session.Tracks.First(t => t.Id == "swell").Sounding!.Clips[0].Media;
        Media Other(Media m) => what switch
        {
            "channels" => m with { Channels = m.Channels + 1 },
            "length" => m with { Length = m.Length + 1 },
            "rate" => m with { Rate = Core.Time.SampleRate.FromHz(96_000) },
            _ => m with { Encoding = Core.Sound.SampleEncoding.Integer16 },
        };
        LoadedSession With(Func<Media, Media> change) => demo.Loaded with { Session = session with { Media = session.Media.Select(m => m.Id == used ? change(m) : m).ToValueArray() } };
        var (_, report) = Proved(p => Only(p, Treatment.PrintDry, "swell"), With(Other));
        Assert.Contains(report.Rows, r => r.Code == "package.contradicted" && !r.Passed);
        Assert.Contains("other than their headers say", report.Verdict);

        // A rate that a person declared is no contradiction.
        Assert.Equal(what == "rate", Proved(p => Only(p, Treatment.PrintDry, "swell"), With(m => Other(m) with { RateDeclared = true })).Report.Passed);
    }

    [Theory]
    [InlineData(Treatment.PrintDry, false)]
    [InlineData(Treatment.PrintThrough, true)]
    [InlineData(Treatment.PrintMixed, true)]
    [InlineData(Treatment.KeepClips, false)]
    public void An_effect_that_cannot_sound_here_is_lacking_where_something_goes_through_it(Treatment treatment, bool lacks)
    {
        var session = demo.Loaded.Session;
        var loaded = demo.Loaded with { Session = session with { Tracks = session.Tracks.Select(t => t.Id is "piano" or "long-hall" ? t with { Inserts = [.. t.Inserts, new Insert("tape echo"), new Insert("unused", Bypassed: true)] } : t).ToValueArray() } };
        var gaps = demo.Plan(p => Only(p, treatment, "piano"), loaded).Gaps.All;
        Assert.Equal(lacks ? ["effect tape echo on Piano"] : Array.Empty<string>(), gaps.Select(g => g.Name));
        if (lacks)
        {
            var (_, report) = Proved(p => Only(p, treatment, "piano"), loaded);
            Assert.Equal("Not proved: printed without tape echo on Piano.", report.Verdict);
        }
    }

    [Fact]
    public void A_mix_lacks_what_it_goes_through_and_the_instruments_of_its_notes()
    {
        var session = demo.Loaded.Session;
        var loaded = demo.Loaded with { Session = session with { Tracks = session.Tracks.Select(t => t.Kind is TrackKind.Master or TrackKind.Return or TrackKind.Audio ? t with { Inserts = [.. t.Inserts, new Insert("tape echo")] } : t).ToValueArray() } };
        Preparation Mixed(Preparation p, StemMaster master) => Only(p, Treatment.PrintDry, "piano") with { Mix = new MixChoices { Guide = true, Master = master } };
        var through = demo.Plan(p => Mixed(p, StemMaster.Through), loaded).Gaps.All.Select(g => g.Of).ToList();
        var before = demo.Plan(p => Mixed(p, StemMaster.Before), loaded).Gaps.All.Select(g => g.Of).ToList();
        var master = session.Tracks.First(t => t.Kind == TrackKind.Master).Name;
        Assert.Contains("tape echo on Piano", through);
        Assert.DoesNotContain("tape echo on Swell", through);
        Assert.Equal([$"tape echo on {master}"], through.Except(before));

        var notes = session.Tracks.First(t => t.Id == "celesta");
        Preparation Notes(Preparation p, Treatment treatment) => Only(p, treatment, notes.Id) with { Mix = new MixChoices { Guide = true } };
        Assert.Equal([($"instrument {notes.Name}", false)], demo.Plan(p => Notes(p, Treatment.Notes)).Gaps.All.Select(g => (g.Name, g.IsAccepted)));

        // The print of a stand-in was asked for by that name.
        Assert.Equal([($"instrument {notes.Name}", true)], demo.Plan(p => Notes(p, Treatment.NotesAndPrint)).Gaps.All.Select(g => (g.Name, g.IsAccepted)));
    }
}
