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
        var (with, without) = (SessionDocumentWriter.Write(noted), SessionDocumentWriter.Write(demo.Loaded.Session));
        Assert.Contains("\"lyrotransSession\": 6", Encoding.UTF8.GetString(with));
        Assert.DoesNotContain("\"lyrotransSession\": 6", Encoding.UTF8.GetString(without));
        Assert.Equal(noted, SessionDocumentReader.Read(new MemoryStream(with), "x"));
        var wrong = Encoding.UTF8.GetString(with).Replace("not comped yet", new string('x', 501), StringComparison.Ordinal);
        Assert.Throws<Core.Errors.BadInputException>(() => SessionDocumentReader.Read(new MemoryStream(Encoding.UTF8.GetBytes(wrong)), "x"));
    }

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
        Assert.Equal([new ObjectNote("cello", "cello-2", "Placeholder"), new ObjectNote("cello", null, "not comped yet")], said.Notes);
        Assert.Equal([new ObjectNote("cello", null, "not comped yet"), new ObjectNote("cello", "cello-2", "")], Say(said, "cello", "cello-2", "").Notes);
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

    private JoinedSession Nothing => new(demo.Loaded.Session, new Dictionary<string, PlacedItem>(), [], [], [], null, [], [], [], false);
}
