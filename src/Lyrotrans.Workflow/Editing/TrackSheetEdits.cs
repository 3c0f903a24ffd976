using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Editing;

/// <summary>Changes of the rows of a track sheet: one, or all that are marked.</summary>
/// <param name="session">Whose tracks they are.</param>
/// <param name="preparation">With the sheet as it stands.</param>
/// <param name="tracks">The identifiers of the rows; those that are not there are passed over.</param>
public sealed class TrackSheetEdits(Session session, Preparation preparation, IEnumerable<string> tracks)
{
    private readonly Dictionary<string, Track> _all = session.Tracks.ToDictionary(t => t.Id);
    private readonly IReadOnlyList<string> _marked = [.. tracks.Distinct().Where(id => preparation.Tracks.Any(c => c.TrackId == id))];

    /// <summary>Gives rows a treatment; one whose track cannot have it stays as it is.</summary>
    public Edit<Preparation> Treat(Treatment treatment) =>
        Rows((choice, track) => Preparation.TreatmentsOf(track).Contains(treatment) ? choice with { Treatment = treatment, Beneath = treatment.IsNamed() ? [.. choice.Beneath.Where(b => b.Treatment != treatment)] : choice.Beneath } : choice, treatment.Words());

    /// <summary>Lets everything go that is on and sounds, whichever rows are marked; what is hidden, muted or switched off stays as it is, and is named.</summary>
    public Edit<Preparation> Everything()
    {
        static bool Sounds(Track track) => track.State == TrackState.Active && (track.Kind == TrackKind.Return || (track.Kind.IsSource() && track.HasContent));
        var left = preparation.Tracks.Select(c => (Choice: c, Track: _all[c.TrackId])).Where(r => r.Choice.Treatment == Treatment.HoldBack && r.Track.Kind.IsSource() && r.Track.HasContent && r.Track.State != TrackState.Active).Select(r => $"{r.Track.Name} ({r.Track.State.Words()})").ToList();
        var rows = preparation.Tracks.Select(c => c.Treatment == Treatment.HoldBack && Sounds(_all[c.TrackId]) ? c with { Treatment = Preparation.TreatmentsOf(_all[c.TrackId])[0] } : c);
        return new Edit<Preparation>(preparation with { Tracks = [.. rows] }, $"everything that sounds goes{(left.Count > 0 ? $", left: {Phrases.List(left, "and")}" : string.Empty)}", null);
    }

    /// <summary>Holds back every row but those that are marked.</summary>
    public Edit<Preparation> HoldOthers() => _marked.Count == 0
        ? new Refused("No row is marked, so nothing would go. Mark the rows that go.")
        : new Edit<Preparation>(preparation with { Tracks = [.. preparation.Tracks.Select(c => _marked.Contains(c.TrackId) ? c : c with { Treatment = Treatment.HoldBack })] }, $"all held back but {Who()}", null);

    /// <summary>Says how many channels rows are delivered with.</summary>
    public Edit<Preparation> Deliver(DeliveredChannels channels) => Rows((choice, _) => choice with { Channels = channels }, Choices.Channels[channels].Change);

    /// <summary>Inverts the polarity of rows, or leaves it as it is.</summary>
    public Edit<Preparation> Invert(bool inverted) => Rows((choice, _) => choice with { Inverted = inverted }, inverted ? "polarity inverted" : "polarity as it is");

    /// <summary>Says whether rows are among those that the mix calls marked.</summary>
    public Edit<Preparation> Mark(bool marked) => Rows((choice, _) => choice with { Marked = marked }, marked ? "marked for mixes" : "not marked for mixes");

    /// <summary>Has another take sound; an empty name is the one that sounds in the session. A row whose track has no such take stays as it is.</summary>
    public Edit<Preparation> Take(string? take) => string.IsNullOrEmpty(take)
        ? Rows((choice, _) => choice with { Take = null }, "the take that sounds here")
        : Rows((choice, track) => track.Lanes.Any(l => l.Name == take) ? choice with { Take = take } : choice, $"take {take} sounds");

    /// <summary>Says whether the other takes of rows go too, each as a track beneath.</summary>
    public Edit<Preparation> Spares(bool go) => Rows((choice, _) => choice with { Spares = go }, go ? "spare takes go as tracks beneath" : "spare takes stay");

    /// <summary>Lets rows go in a further form, muted beneath theirs, or not any more; one whose track cannot have it, or that goes so already, stays as it is.</summary>
    public Edit<Preparation> Beneath(Treatment treatment, bool goes) => Rows(
        (choice, track) => choice with { Beneath = !goes ? [.. choice.Beneath.Where(b => b.Treatment != treatment)] : CanBeBeneath(choice, track, treatment) ? [.. choice.Beneath, new BeneathChoice(treatment)] : choice.Beneath },
        goes ? $"{treatment.Words()} too, muted beneath" : $"not {treatment.Words()} beneath any more");

    /// <summary>Names what is delivered of a further form of rows; an empty name leaves that to the pattern.</summary>
    public Edit<Preparation> NameBeneath(Treatment treatment, string? name)
    {
        var own = string.IsNullOrWhiteSpace(name) ? null : name.Trim();
        return Rows((choice, _) => choice with { Beneath = [.. choice.Beneath.Select(b => b.Treatment == treatment ? b with { Name = own } : b)] }, own is null ? $"{treatment.Words()} beneath: name from the pattern" : $"{treatment.Words()} beneath: delivered as {own}");
    }

    /// <summary>Says which effects prints of rows do not go through; a row without one of these names goes through all that it has.</summary>
    public Edit<Preparation> Without(IEnumerable<string> effects)
    {
        var names = effects.ToHashSet();
        return Rows((choice, track) => choice with { Without = [.. PrintEffects.NamesOf(track).Where(names.Contains)] }, names.Count == 0 ? "prints go through all effects" : $"prints go without {Phrases.List([.. names], "and")}");
    }

    /// <summary>Says how many times an effect of rows is oversampled; 0 leaves that to all. A row without an effect of this name stays as it is.</summary>
    public Edit<Preparation> Oversample(string effect, int times) => times != 0 && !EffectOversampling.Factors.Contains(times)
        ? new Refused("Effects are oversampled 1, 2 or 4 times.")
        : Rows((choice, track) => PrintEffects.NamesOf(track).Contains(effect) ? choice with { Oversampled = [.. choice.Oversampled.Where(o => o.Effect != effect), .. times == 0 ? [] : new[] { (effect, times) }] } : choice, times == 0 ? $"{effect} oversampled as all" : $"{effect} oversampled {times} times");

    private static bool CanBeBeneath(TrackChoice choice, Track track, Treatment treatment) =>
        choice.Treatment.IsNamed() && choice.Treatment != treatment && Preparation.BeneathOf(track).Contains(treatment) && choice.Beneath.All(b => b.Treatment != treatment);

    /// <summary>Puts rows into a stem; an empty name leaves that to their buses.</summary>
    public Edit<Preparation> Group(string? stem)
    {
        var name = string.IsNullOrWhiteSpace(stem) ? null : stem.Trim();
        return Rows((choice, _) => choice with { Group = name }, name is null ? "stem by its bus" : $"stem {name}");
    }

    /// <summary>Lets stems go and says of all rows which they go into, whichever are marked.</summary>
    /// <param name="by"><c>bus</c>, <c>track</c> or <c>name</c>: tracks whose names begin with the same word go together.</param>
    public Edit<Preparation> Stems(string? by)
    {
        var words = session.Tracks.Where(t => t.Kind.IsSource()).GroupBy(t => FirstWord(t.Name), StringComparer.OrdinalIgnoreCase).ToDictionary(g => g.Key, g => (Spelt: g.Key, Tracks: g.Count()), StringComparer.OrdinalIgnoreCase);
        Func<Track, string?>? stem = by switch
        {
            "bus" => _ => null,
            "track" => t => t.Name,
            "name" => t => words[FirstWord(t.Name)] is { Tracks: > 1 } word ? word.Spelt : t.Name,
            _ => null,
        };
        return stem is null ? new Refused("There is no such way to stems.") : new Edit<Preparation>(
            preparation with { Mix = preparation.Mix with { Stems = true }, Tracks = [.. preparation.Tracks.Select(c => _all[c.TrackId].Kind.IsSource() ? c with { Group = stem(_all[c.TrackId]) } : c)] }, $"stems by {by}", null);
    }

    private static string FirstWord(string name) => name.Split([' ', '_', '-', '.'], StringSplitOptions.RemoveEmptyEntries) is [var first, ..] ? first : name;

    /// <summary>Names what is delivered of rows; an empty name leaves that to the pattern, and what the pattern puts around a name is taken off.</summary>
    public Edit<Preparation> Name(string? typed)
    {
        if (!preparation.NamePattern.Contains(NamePattern.Track, StringComparison.Ordinal))
        {
            return new Refused("The name pattern has no {track}, so a typed name has no place in it. Put {track} into the pattern first.");
        }

        var name = _marked.Count == 0 || TrackPartOf(typed) is not { } part || string.IsNullOrWhiteSpace(part) ? null : part.Trim();
        return Rows((choice, _) => choice with { Name = name }, name is null ? "name from the pattern" : $"delivered as {name}");
    }

    /// <summary>Moves the first row up or down by one; at the end of the sheet it stays.</summary>
    /// <param name="down">Up where false.</param>
    public Edit<Preparation> Move(bool down)
    {
        if (_marked.Count == 0)
        {
            return NoTrack();
        }

        var rows = preparation.Tracks.ToList();
        var at = rows.FindIndex(r => r.TrackId == _marked[0]);
        var to = Math.Clamp(at + (down ? 1 : -1), 0, rows.Count - 1);
        (rows[at], rows[to]) = (rows[to], rows[at]);
        return new Edit<Preparation>(preparation with { Tracks = rows.ToValueArray() }, $"{Who()}: moved {(down ? "down" : "up")}", null);
    }

    /// <summary>Moves rows, in their order, before another; to the end where there is no such row. Before one of themselves they stay.</summary>
    public Edit<Preparation> MoveBefore(string? before)
    {
        if (_marked.Count == 0)
        {
            return NoTrack();
        }

        var marked = _marked.ToHashSet();
        if (before is not null && marked.Contains(before))
        {
            return new Edit<Preparation>(preparation, string.Empty, null);
        }

        var (moved, rest) = (preparation.Tracks.Where(c => marked.Contains(c.TrackId)), preparation.Tracks.Where(c => !marked.Contains(c.TrackId)).ToList());
        var at = rest.FindIndex(c => c.TrackId == before);
        return new Edit<Preparation>(preparation with { Tracks = at < 0 ? [.. rest, .. moved] : [.. rest.Take(at), .. moved, .. rest.Skip(at)] }, at < 0 ? $"{Who()}: moved to the end" : $"{Who()}: moved before {_all[rest[at].TrackId].Name}", null);
    }

    /// <summary>Puts all rows in an order, whichever are marked.</summary>
    /// <param name="by"><c>name</c>, <c>stem</c> or <c>session</c>.</param>
    public Edit<Preparation> Sort(string? by)
    {
        var roles = TrackRoles.Of(session);
        var place = session.Tracks.Select((t, i) => (t.Id, i)).ToDictionary(t => t.Id, t => t.i);
        IEnumerable<TrackChoice>? rows = by switch
        {
            "name" => preparation.Tracks.OrderBy(c => c.Name ?? _all[c.TrackId].Name, NaturalOrder.Comparer),
            "stem" => preparation.Tracks.OrderBy(c => StemNames.Of(c, _all, roles), NaturalOrder.Comparer),
            "session" => preparation.Tracks.OrderBy(c => place[c.TrackId]),
            _ => null,
        };
        return rows is null ? new Refused("There is no such order.") : new Edit<Preparation>(preparation with { Tracks = [.. rows] }, $"rows by {by}", null);
    }

    /// <summary>Gives every row with one treatment another, whichever are marked.</summary>
    public static Edit<Preparation> TreatAll(Preparation preparation, Treatment before, Treatment after, string words) =>
        new(preparation with { Tracks = preparation.Tracks.Select(c => c.Treatment == before ? c with { Treatment = after } : c).ToValueArray() }, words, null);

    private Edit<Preparation> Rows(Func<TrackChoice, Track, TrackChoice> change, string words)
    {
        if (_marked.Count == 0)
        {
            return NoTrack();
        }

        var rows = preparation.Tracks.Select(c => _marked.Contains(c.TrackId) ? change(c, _all[c.TrackId]) : c).ToValueArray();
        return new Edit<Preparation>(preparation with { Tracks = rows }, $"{Who()}: {words}", null);
    }

    private string Who() => _marked.Count == 1 ? _all[_marked[0]].Name : Phrases.Count(_marked.Count, "track");

    private static Refused NoTrack() => new("There is no such track any more. Load the page again.");

    private string TrackPartOf(string? typed)
    {
        // Spare takes and further forms are counted too.
        var (all, rows) = TakeTracks.Of(session, preparation);
        (all, rows) = BeneathTracks.Of(all, rows);
        var order = rows.Tracks.Where(c => c.Treatment.IsNamed()).ToList().FindIndex(c => c.TrackId == _marked[0]) + 1;
        var around = NamePattern.Fill(preparation.NamePattern, DeliveredNames.Fields(all, rows, rows.Tracks.First(c => c.TrackId == _marked[0]), order, "\n")).Split('\n');
        var name = (typed ?? string.Empty).Trim();
        name = name.StartsWith(around[0], StringComparison.Ordinal) ? name[around[0].Length..] : name;
        return around[^1].Length > 0 && name.EndsWith(around[^1], StringComparison.Ordinal) ? name[..^around[^1].Length] : name;
    }
}
