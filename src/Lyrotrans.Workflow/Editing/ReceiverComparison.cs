using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Editing;

/// <summary>What receivers of one session get differently, side by side.</summary>
public static class ReceiverComparison
{
    /// <summary>A row for each choice, and for each track, that is not the same for all: what it is called, and how it is for each receiver in turn.</summary>
    public static IReadOnlyList<(string Name, IReadOnlyList<string> For)> Of(Session session, ReceiverList receivers)
    {
        IReadOnlyList<Preparation> all = [.. receivers.All.Select(r => r.Preparation)];
        var names = session.Tracks.ToDictionary(t => t.Id, t => t.Name);
        return [.. Options(all, PreparationOptions.Files, string.Empty, p => p, session)
            .Concat(Options(all, PreparationOptions.Mix, string.Empty, p => p.Mix, session))
            .Concat(Choices.FileKinds.SelectMany(k => Options(all, PreparationOptions.Kind, $"{k.Words}: ", p => p.Kinds[k.Value], session)))
            .Concat(Options(all, PreparationOptions.Midi, "MIDI: ", p => p.Midi, session))
            .Concat(Options(all, PreparationOptions.Markers, string.Empty, p => p, session))
            .Concat(Options(all, PreparationOptions.Picture, "picture: ", p => p.Picture, session))
            .Concat(Options(all, PreparationOptions.Click, "click: ", p => p.Click, session))
            .Append(("clips as", [.. all.Select(p => p.Clips.Format.Id.ToUpperInvariant())]))
            .Concat(Options(all, PreparationOptions.Clips, "clips: ", p => p.Clips, session))
            .Concat(FormatOptions(all))
            .Append(("tracks that go", [.. all.Select(p => Digits.Grouped(p.Tracks.Count(c => c.Treatment != Treatment.HoldBack)))]))
            .Append(("order of tracks", [.. all.Select(p => string.Equals(Order(p), Order(all[0]), StringComparison.Ordinal) ? "the same" : "its own")]))
            .Concat(session.Tracks.Select(t => (names[t.Id], (IReadOnlyList<string>)[.. all.Select(p => Words(p, t.Id))])))
            .Where(row => row.Item2.Distinct().Count() > 1)];
    }

    private static string Order(Preparation preparation) => string.Join('\n', preparation.Tracks.Select(c => c.TrackId));

    private static string Words(Preparation preparation, string track)
    {
        var choice = preparation.Tracks.First(c => c.TrackId == track);
        string?[] parts = [choice.Treatment.Words(), choice.Channels == DeliveredChannels.AsTrack ? null : Choices.Channels[choice.Channels].Words, choice.Name, choice.Inverted ? "inverted" : null, choice.Group];
        string[] said = ["treatment", "channels", "name", "inverted", "group"];
        var usual = new TrackChoice(track, choice.Treatment);
        return string.Join(", ", parts.OfType<string>()
            .Concat(PreparationOptions.Track.Where(o => !said.Contains(o.Id)).Select(o => o.Changed(usual, choice)).OfType<string>())
            .Concat(choice.Beneath.Select(b => $"{b.Treatment.Words()} beneath{(b.Name is { } name ? $" as {name}" : string.Empty)}"))
            .Concat(choice.Oversampled.Select(o => $"{o.Effect} oversampled {Phrases.Count(o.Times, "time")}"))
            .Concat(choice.Without.Count > 0 ? [$"prints without {Phrases.List([.. choice.Without], "and")}"] : []));
    }

    private static IEnumerable<(string Name, IReadOnlyList<string> For)> Options<T>(IReadOnlyList<Preparation> all, OptionTable<T> options, string part, Func<Preparation, T> of, Session session) =>
        options.Select(o => ($"{part}{o.Label}", (IReadOnlyList<string>)[.. all.Select(p => Shown(o, of(p), session))]));

    private static string Shown<T>(Option<T> option, T choices, Session session) => option switch
    {
        ChoiceOption<T> choice => choice.Values.First(v => v.Id == choice.Of(choices)).Words,
        TruthOption<T> truth => truth.Of(choices) ? truth.Words?.Yes ?? "yes" : truth.Words?.No ?? "no",
        WholeOption<T> { Unit: WholeUnit.Duration } whole when whole.Of(choices) is not null => $"{OptionTyping.Shown(option, choices, session)} s",
        _ => OptionTyping.Shown(option, choices, session) is { Length: > 0 } shown ? shown : "–",
    };

    private static IEnumerable<(string Name, IReadOnlyList<string> For)> FormatOptions(IReadOnlyList<Preparation> all) => all.SelectMany(p => p.Clips.Format.Options).DistinctBy(o => o.Id)
        .Select(o => ($"clips: {o.Name}", (IReadOnlyList<string>)[.. all.Select(p => p.Clips.Format.Options.Contains(o) ? o.Find(p.Clips.Options[o])!.Words : "–")]));
}
