using System.Text;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What the engineer says of tracks and clips, and where markers lie, goes with the session and everywhere that it goes.</summary>
public sealed class NoteTests(DemoSession demo)
{
    private const string Placeholder = "Placeholder, to be played again: “dark”";

    private static Session Noted(Session session) => session with
    {
        Tracks = [.. session.Tracks.Select(t => t.Id != "cello" ? t : t with { Note = "not comped yet", Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select((c, i) => i == 1 ? c with { Note = Placeholder } : c)] })] })],
    };

    [Theory]
    [InlineData("AAF", true, false)]
    [InlineData("OMF", false, false)]
    [InlineData("OTIO", true, true)]
    public void They_go_where_a_format_has_a_place_and_stand_in_the_sheet_always(string format, bool clips, bool tracks)
    {
        var loaded = demo.Loaded with { Session = Noted(demo.Loaded.Session) };
        var plan = demo.Plan(p => p with { Clips = new ClipChoices(SessionFormats.OfClips.Single(f => f.Id == format).Clips!), Tracks = [.. p.Tracks.Select(c => c with { Treatment = c.TrackId == "cello" ? Treatment.KeepClips : Treatment.HoldBack })] }, loaded);
        var zip = demo.Build(plan, loaded);
        var report = demo.Prove(zip, plan, loaded);
        Assert.True(report.Passed, string.Join('\n', report.Rows.Where(r => !r.Passed)));
        using var stream = new MemoryStream(PackageTamper.Read(zip, SessionFormats.OfClips.Single(f => f.Id == format).Extension));
        var read = SessionDocuments.Open(stream, "x").ReadSession().Session;
        var cello = read.Tracks.Single(t => t.Name.EndsWith("Cello", StringComparison.Ordinal));
        Assert.Equal(clips ? new[] { Placeholder } : [], cello.Lanes[0].Clips.Select(c => c.Note).Where(n => n.Length > 0));
        Assert.Equal(tracks ? "not comped yet" : string.Empty, cello.Note);
        var sheet = Encoding.UTF8.GetString(PackageTamper.Read(zip, "Session_sheet.html"));
        Assert.Contains("Placeholder, to be played again", sheet);
        Assert.Contains("not comped yet", sheet);
        Assert.Equal(!tracks, sheet.Contains("has no place for notes to", StringComparison.Ordinal));
    }

    [Fact]
    public void A_document_has_them_from_its_sixth_version_and_older_ones_stay_as_they_were()
    {
        var noted = Noted(demo.Loaded.Session);
        var (with, without) = (SessionDocumentWriter.Write(noted), SessionDocumentWriter.Write(WithoutNotes(demo.Loaded.Session)));
        Assert.Contains("\"lyrotransSession\": 6", Encoding.UTF8.GetString(with));
        Assert.DoesNotContain("\"lyrotransSession\": 6", Encoding.UTF8.GetString(without));
        Assert.Equal(noted, SessionDocumentReader.Read(new MemoryStream(with), "x"));
        var wrong = Encoding.UTF8.GetString(with).Replace("not comped yet", new string('x', 501), StringComparison.Ordinal);
        Assert.Throws<Core.Errors.BadInputException>(() => SessionDocumentReader.Read(new MemoryStream(Encoding.UTF8.GetBytes(wrong)), "x"));
    }

    private static Session WithoutNotes(Session session) =>
        session with { Tracks = [.. session.Tracks.Select(t => t with { Note = string.Empty, Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => c with { Note = string.Empty })] })] })] };

    [Fact]
    public void A_note_is_kept_with_the_intake_and_taken_away_again()
    {
        var (before, session) = (new IntakeState(), demo.Loaded.Session);
        IntakeState Say(IntakeState state, string track, string? clip, string text)
        {
            var edit = new IntakeEdits(state, session, Nothing).Note(track, clip, text);
            Assert.Null(edit.Problem);
            return IntakeState.FromJson(edit.After!.ToJson());
        }

        var said = Say(Say(before, "cello", "cello-2", " Placeholder "), "cello", null, "not comped yet");
        Assert.Equal([new ObjectNote("cello", "cello-2", "Placeholder", "Cello", "cello 2"), new ObjectNote("cello", null, "not comped yet", "Cello")], said.Notes);
        Assert.Equal([new ObjectNote("cello", null, "not comped yet", "Cello"), new ObjectNote("cello", "cello-2", "", "Cello", "cello 2")], Say(said, "cello", "cello-2", "").Notes);
        Assert.NotNull(new IntakeEdits(before, session, Nothing).Note("cello", "gone", "x").Problem);
        Assert.NotNull(new IntakeEdits(before, session, Nothing).Note("gone", null, "x").Problem);
        Assert.NotNull(new IntakeEdits(before, session, Nothing).Note("cello", null, new string('x', 501)).Problem);
        Assert.NotNull(new IntakeEdits(before, session, Nothing).Note("cello", null, "bell \a").Problem);
    }

    [Fact]
    public void Markers_are_set_moved_renamed_and_taken_away_in_words_and_to_the_sample()
    {
        var (before, session) = (new IntakeState(), demo.Loaded.Session);
        (IntakeState State, Session Session, string Words) Do(IntakeState state, Session now, Func<MarkerEdits, Edit<IntakeState>> edit)
        {
            var made = edit(new MarkerEdits(state, now));
            Assert.Null(made.Problem);
            var kept = IntakeState.FromJson(made.After!.ToJson());
            return (kept, kept.MarkerEdits.Aggregate(session, (s, e) => e.ApplyTo(s)), made.Words);
        }

        var set = Do(before, session, e => e.Set(null, "Second moon", "samples", "48 000", ""));
        Assert.Equal(new Marker("set-1", "Second moon", 48_000), set.Session.Markers.Single(m => m.Id == "set-1"));
        Assert.Equal("marker Second moon at 48\u202f000", set.Words);
        var moved = Do(set.State, set.Session, e => e.Set("set-1", "Second moon", "bars", "2.1.0", "96000"));
        Assert.Equal(session.Clock.SampleAt(session.Meters.StartOfBar(2)), moved.Session.Markers.Single(m => m.Id == "set-1").Sample);
        Assert.Equal(96_000, moved.Session.Markers.Single(m => m.Id == "set-1").Length);
        var renamed = Do(moved.State, moved.Session, e => e.Set("m1", "Lamps out", "samples", "31304", "96 000"));
        Assert.Equal("marker Lamps down is Lamps out", renamed.Words);
        var removed = Do(renamed.State, renamed.Session, e => e.Remove("set-1"));
        Assert.DoesNotContain(removed.Session.Markers, m => m.Id == "set-1");
        Assert.Equal(session.Markers.Count, removed.Session.Markers.Count);
        Assert.Equal(removed.Session.Markers.OrderBy(m => m.Sample), removed.Session.Markers);

        // A new one after that is no other's.
        Assert.Equal("set-2", Do(removed.State, removed.Session, e => e.Set("", "x", "timecode", "10:00:01:00", null)).Session.Markers.Single(m => m.Text == "x").Id);
        foreach (var bad in new Func<MarkerEdits, Edit<IntakeState>>[]
        {
            e => e.Set(null, " ", "samples", "1", null), e => e.Set(null, "x", "samples", "soon", null), e => e.Set(null, "x", "samples", "1", "-5"), e => e.Set(null, "x", "days", "1", null),
            e => e.Set("gone", "x", "samples", "1", null), e => e.Set("m1", "Lamps down", "samples", "31304", "96000"), e => e.Remove("gone"), e => e.Set(null, new string('x', 201), "samples", "1", null),
        })
        {
            Assert.NotNull(bad(new MarkerEdits(before, session)).Problem);
        }
    }

    [Fact]
    public void Where_a_source_numbers_its_tracks_and_clips_anew_a_note_goes_with_the_names_and_never_to_another()
    {
        ObjectNote[] notes = [new("t1", "c1", "to be played again", "Cello", "idea"), new("t1", null, "not comped yet", "Cello"), new("t2", "c9", "which?", "Horn", "take")];
        static Track Track(string id, string name, params (string Id, string Name)[] clips) => new() { Id = id, Name = name, Lanes = [new Lane("main", [.. clips.Select(c => new Clip { Id = c.Id, Name = c.Name, Media = "m" })])] };
        (Session Session, IReadOnlyList<Core.Findings.Finding> Findings) Joined(params Track[] tracks)
        {
            Core.Findings.FindingList findings = [];
            return (NoteJoin.Apply(new Session { Name = "s", Tracks = [.. tracks] }, notes, findings), [.. findings]);
        }

        var anew = Joined(Track("t1", "Horn", ("c1", "take"), ("c2", "take")), Track("t2", "Cello", ("c1", "opening"), ("c2", "idea")));
        Assert.Equal(["", "not comped yet"], anew.Session.Tracks.Select(t => t.Note));
        Assert.Equal(["", "", "", "to be played again"], anew.Session.Tracks.SelectMany(t => t.Lanes[0].Clips).Select(c => c.Note));
        Assert.Contains("\"which?\"", Assert.Single(anew.Findings).Text);
        var gone = Joined(Track("t1", "Cello", ("c1", "opening")));
        Assert.Equal(["intake.note-lost", "intake.note-lost"], gone.Findings.Select(f => f.Code.ToString()));
        Assert.Equal("not comped yet", gone.Session.Tracks[0].Note);
        Assert.Equal("", gone.Session.Tracks[0].Lanes[0].Clips[0].Note);
    }

    [Fact]
    public void Where_a_source_numbers_its_markers_anew_the_one_that_was_meant_is_changed_and_no_other()
    {
        var (comet, dark) = (new Marker("m1", "Comet", 100), new Marker("m2", "Dark", 200));
        Session Of(params Marker[] markers) => new() { Name = "s", Markers = [.. markers] };
        var (away, moved) = (new MarkerEdit("m1", null, 0, comet), new MarkerEdit("m1", comet with { Sample = 150 }, 0, comet));
        var other = Of(new Marker("m1", "Lamps", 50), comet with { Id = "m1-2" }, dark);
        Assert.Equal(["Lamps", "Dark"], away.ApplyTo(other).Markers.Select(m => m.Text));
        Assert.Equal([50L, 150, 200], moved.ApplyTo(other).Markers.Select(m => m.Sample));

        // Where it is gone nothing else goes, and what the engineer made of it stays, with an identifier of its own.
        var gone = Of(new Marker("m1", "Lamps", 50), dark);
        Assert.Equal(gone, away.ApplyTo(gone));
        Assert.Equal(["Lamps", "Comet", "Dark"], moved.ApplyTo(gone).Markers.Select(m => m.Text));
        Assert.Equal(3, moved.ApplyTo(gone).Markers.Select(m => m.Id).Distinct().Count());

        // A map may have moved it since.
        Assert.Equal(["Dark"], away.ApplyTo(Of(comet with { Sample = 117 }, dark)).Markers.Select(m => m.Text));
    }

    private JoinedSession Nothing => new(demo.Loaded.Session, new Dictionary<string, PlacedItem>(), [], [], [], null, [], [], [], false);
}
