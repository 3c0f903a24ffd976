using System.Text;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Editing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A transfer has receivers, each with what it gets.</summary>
public class ReceiverTests
{
    private static readonly Session s_session = new() { Name = "Orrery Suite", Tracks = [new Track { Id = "bell", Name = "Bell" }, new Track { Id = "horn", Name = "Horn" }] };

    private static readonly ReceiverList s_one = ReceiverList.One("Lantern House", Preparation.Default(s_session, SessionFormats.Usual));

    private static ReceiverList Two() => new ReceiverEdits(s_one).Add(s_one.First, " Night Kitchen ").After!;

    [Fact]
    public void One_more_receiver_gets_what_the_other_gets_until_it_is_changed()
    {
        var two = Two();
        Assert.Equal(["Lantern House", "Night Kitchen"], two.All.Select(r => r.Name));
        Assert.Equal(["1", "2"], two.All.Select(r => r.Id));
        Assert.Empty(ReceiverComparison.Of(s_session, two));
        var second = two["2"]!;
        var preparation = second.Preparation with
        {
            Encoding = SampleEncoding.Float32,
            Tail = 96_000,
            Tracks = [.. second.Preparation.Tracks.Select(c => c.TrackId == "horn" ? c with { Treatment = Treatment.KeepClips, Name = "H" } : c)],
        };
        two = two.With(second with { Preparation = preparation });
        Assert.Equal(s_one.First, two.First);
        var rows = ReceiverComparison.Of(s_session, two).ToDictionary(r => r.Name, r => r.For);
        Assert.Equal(["tail", "depth", "tracks that go", "Horn"], rows.Keys);
        Assert.Equal(["1.000 s", "2.000 s"], rows["tail"]);
        Assert.Equal(["hold back", "keep clips, H"], rows["Horn"]);
    }

    [Fact]
    public void Names_tell_receivers_apart_and_the_only_one_stays()
    {
        var two = Two();
        foreach (var name in new[] { "", "  ", null, "lantern house", new string('x', 121) })
        {
            Assert.NotNull(new ReceiverEdits(two).Add(two.First, name).Problem);
            Assert.NotNull(new ReceiverEdits(two).Rename(two["2"]!, name).Problem);
        }

        Assert.Equal("Night Kitchen is called Bell yard", new ReceiverEdits(two).Rename(two["2"]!, "Bell yard").Words);
        Assert.Null(new ReceiverEdits(two).Rename(two["2"]!, "NIGHT KITCHEN").Problem);
        var left = new ReceiverEdits(two).Remove(two.First).After!;
        Assert.Equal(["2"], left.All.Select(r => r.Id));
        Assert.NotNull(new ReceiverEdits(left).Remove(left.First).Problem);

        // An id that was given is never given again: packages of one that left are not another's.
        Assert.Equal(["2", "3"], new ReceiverEdits(left).Add(left.First, "Lantern House").After!.All.Select(r => r.Id));
        var full = Enumerable.Range(0, ReceiverList.Most - 1).Aggregate(s_one, (list, i) => new ReceiverEdits(list).Add(list.First, $"room {i}").After!);
        Assert.NotNull(new ReceiverEdits(full).Add(full.First, "one more").Problem);
    }

    [Fact]
    public void Every_receiver_follows_the_session()
    {
        var two = Two();
        two = two.With(two["2"]! with { Preparation = two["2"]!.Preparation with { Tracks = [.. two.First.Preparation.Tracks.Reverse()] } });
        var after = s_session with { Tracks = [.. s_session.Tracks, new Track { Id = "cello", Name = "Cello" }] };
        Assert.Equal(["bell horn cello", "horn bell cello"], two.For(after, s_session).All.Select(r => string.Join(' ', r.Preparation.Tracks.Select(c => c.TrackId))));
    }

    [Fact]
    public void The_document_says_all_and_one_of_before_is_one_receiver_without_a_name()
    {
        var two = Two();
        two = two.With(two["2"]! with { Preparation = two["2"]!.Preparation.Answering("clipped", new FlagAnswer("clipped", "2 files clip", true, "It is meant.", ["0123", "4567"])) });
        var bytes = ReceiversDocument.Write(two);
        Assert.Equal(two, ReceiversDocument.Read(bytes, "receivers"));
        Assert.Equal(bytes, ReceiversDocument.Write(ReceiversDocument.Read(bytes, "receivers")));

        var before = ReceiversDocument.Read(PreparationDocument.Write(s_one.First.Preparation), "before");
        Assert.Equal((string.Empty, "1", s_one.First.Preparation), (before.First.Name, Assert.Single(before.All).Id, before.First.Preparation));
    }

    [Theory]
    [InlineData("\"receiversVersion\": 1", "\"receiversVersion\": 2")]
    [InlineData("\"id\": \"2\"", "\"id\": \"1\"")]
    [InlineData("\"next\": 3", "\"next\": 0")]
    [InlineData("\"name\": \"Night Kitchen\"", "\"name\": 4")]
    [InlineData("\"accepted\": []", "\"answers\": [{}]")]
    [InlineData("\"receivers\": [", "\"receivers\": [], \"other\": [")]
    public void A_document_against_the_form_is_refused_with_its_path(string good, string bad)
    {
        var text = Encoding.UTF8.GetString(ReceiversDocument.Write(Two()));
        var at = text.LastIndexOf(good, StringComparison.Ordinal);
        Assert.True(at >= 0);
        var problem = Assert.Throws<BadInputException>(() => ReceiversDocument.Read(Encoding.UTF8.GetBytes(string.Concat(text.AsSpan(0, at), bad, text.AsSpan(at + good.Length))), "receivers.json"));
        Assert.Equal("receivers.json", problem.File);
    }
}
