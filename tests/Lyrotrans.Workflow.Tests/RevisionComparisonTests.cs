using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Editing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Two states of a transfer are compared whole: session, and what each receiver gets.</summary>
public sealed class RevisionComparisonTests(DemoSession demo)
{
    private Session Session => demo.Loaded.Session;

    private ReceiverList Receivers => ReceiverList.One("Tarn Lane", Preparation.Default(Session, SessionFormats.Usual));

    private static Session WithClip(Session session, Func<Clip, Clip> change) =>
        session with { Tracks = [.. session.Tracks.Select(t => t.Id != "cello" ? t : t with { Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select((c, i) => i == 2 ? change(c) : c)] })] })] };

    [Fact]
    public void The_same_is_the_same() => Assert.True(RevisionComparison.Of(Session, Receivers, Session, Receivers) is { IsSame: true, Tracks.Count: 0 });

    [Fact]
    public void A_clip_that_moved_by_one_sample_is_a_row_with_both_places_and_a_track_in_the_picture()
    {
        var found = RevisionComparison.Of(Session, Receivers, WithClip(Session, c => c with { Start = c.Start + 1, GainDb = c.GainDb + 0.5 }), Receivers);
        Assert.Equal(["gain", "start"], found.Session.Select(r => r.What).Order());
        Assert.All(found.Session, r => Assert.StartsWith("Cello, ", r.Subject));
        Assert.Empty(found.Receivers);
        Assert.Equal("cello", Assert.Single(found.Tracks).After!.Id);
    }

    [Fact]
    public void A_marker_that_was_set_is_one_row_and_moves_no_other()
    {
        var after = Session with { Markers = [new Marker("set-1", "Second moon", 7), .. Session.Markers.Select(m => m.Id == "m9" ? m with { Text = "The end" } : m)] };
        var found = RevisionComparison.Of(Session, Receivers, after, Receivers);
        Assert.Equal([("Marker The end", false), ("Marker Second moon", true)], found.Session.Select(r => (r.Subject, r.Meant == "not there")));
        Assert.Empty(found.Tracks);
    }

    [Fact]
    public void A_track_that_went_and_one_that_came_are_said_and_are_no_change_of_what_receivers_get()
    {
        var fresh = Session.Tracks[0] with { Id = "fresh", Name = "Fresh", Lanes = [] };
        var after = Session with { Tracks = [.. Session.Tracks.Where(t => t.Id != "cello"), fresh] };
        var found = RevisionComparison.Of(Session, Receivers, after, Receivers.For(after, Session));
        Assert.Contains(found.Session, r => r is { Subject: "Cello", Found: "missing" });
        Assert.Contains(found.Session, r => r is { Subject: "Fresh", Found: "there" });
        Assert.Empty(found.Receivers);
        Assert.Equal([("fresh", null), (null, "cello")], found.Tracks.Select(t => (t.After?.Id, t.Before?.Id)));
    }

    [Fact]
    public void What_a_receiver_gets_otherwise_is_said_by_its_name_and_receivers_that_came_or_went_too()
    {
        var changed = Receivers.First.Preparation with { Tail = 0, Tracks = [.. Receivers.First.Preparation.Tracks.Select(c => c.TrackId == "cello" ? c with { Treatment = Treatment.KeepClips } : c)] };
        var after = Receivers.With(Receivers.First with { Preparation = changed }).Copied(Receivers.First, "Another room");
        var found = RevisionComparison.Of(Session, Receivers, Session, after);
        Assert.Contains(("Tarn Lane", "Cello", "print dry", "keep clips"), found.Receivers);
        Assert.Contains(found.Receivers, r => r is { Receiver: "Tarn Lane", Name: not "Cello" });
        Assert.Contains(("Another room", "receiver", "not there", "there"), found.Receivers);
        Assert.Contains(("Another room", "receiver", "there", "not there"), RevisionComparison.Of(Session, after, Session, Receivers).Receivers);
        Assert.Empty(found.Tracks);
    }
}
