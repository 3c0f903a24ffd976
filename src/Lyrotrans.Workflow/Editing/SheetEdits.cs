using System.Text;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proposing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Preparations;

namespace Lyrotrans.Workflow.Editing;

/// <summary>What a receiver gets by a sheet.</summary>
public static class SheetEdits
{
    /// <summary>The receivers with a sheet chosen for one of them: its preparation becomes what the sheet asks for, and everything that it says nothing of stays.</summary>
    /// <exception cref="Core.Errors.BadInputException">It is no sheet.</exception>
    public static Edit<ReceiverList> Choose(ReceiverList receivers, Receiver receiver, string json, string name, Session session)
    {
        var after = Asked(json, name, receiver.Preparation, session);
        var forced = Forced(session, receiver.Preparation, after).Count;
        var words = $"{(receivers.IsOne ? string.Empty : $"for {receiver.Called}: ")}sheet {after.Sheet?.Name ?? name}, {Phrases.Count(forced, "change")}";
        return new Edit<ReceiverList>(receivers.With(receiver with { Preparation = after, Sheet = json }), words, null);
    }

    /// <summary>The receivers with no sheet for one of them; what it gets stays.</summary>
    public static Edit<ReceiverList> Leave(ReceiverList receivers, Receiver receiver) =>
        new(receivers.With(receiver with { Preparation = receiver.Preparation with { Sheet = null }, Sheet = null }), $"{(receivers.IsOne ? string.Empty : $"for {receiver.Called}: ")}no sheet", null);

    /// <summary>Where a receiver gets something else than its sheet asks for: what, how it is, and how the sheet has it. Nothing where none was chosen.</summary>
    public static IReadOnlyList<(string Name, IReadOnlyList<string> For)> Differences(Receiver receiver, Session session) =>
        receiver.Sheet is { } json ? Forced(session, receiver.Preparation, Asked(json, "the sheet", receiver.Preparation, session)) : [];

    /// <summary>What is proposed to this receiver beside what was chosen; its sheet has a say.</summary>
    public static IReadOnlyList<Proposal> Proposed(Receiver receiver, Session session) =>
        Proposals.Of(session, receiver.Preparation, receiver.Sheet is not { } json || !ReceiverSheet.Read(Encoding.UTF8.GetBytes(json), "the sheet").RefusesClick);

    /// <summary>Takes a proposal, or all.</summary>
    /// <param name="receiver">To whom it is made.</param>
    /// <param name="session">What is prepared.</param>
    /// <param name="id">Which; empty for all.</param>
    public static Edit<Preparation> Take(Receiver receiver, Session session, string? id)
    {
        var taken = Proposed(receiver, session).Where(p => string.IsNullOrEmpty(id) || p.Id == id).ToList();
        return taken.Count == 0
            ? new Refused("This is not proposed any more. Load the page again.")
            : new Edit<Preparation>(taken.Aggregate(receiver.Preparation.For(session), (all, one) => one.Apply(all)), $"as proposed: {Phrases.List([.. taken.Select(p => p.Words)], "and")}", null);
    }

    private static Preparation Asked(string json, string name, Preparation preparation, Session session) => ReceiverSheet.Read(Encoding.UTF8.GetBytes(json), name).Apply(preparation, session);

    private static IReadOnlyList<(string Name, IReadOnlyList<string> For)> Forced(Session session, Preparation before, Preparation after) =>
        ReceiverComparison.Of(session, ReceiverList.Of([new Receiver("1", string.Empty, before), new Receiver("2", string.Empty, after)], 3));
}
