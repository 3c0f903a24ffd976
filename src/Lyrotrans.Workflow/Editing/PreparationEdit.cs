using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Registry;

namespace Lyrotrans.Workflow.Editing;

/// <summary>
/// A change of a preparation by the fields of a form: <c>part.option</c> of <see cref="PreparationOptions"/>, <see cref="File"/>, <c>options.option</c> of the format of clips that was
/// shown, <c>accents.meter</c> and <see cref="ToChosen"/>. What has no field stays as it is, and so does a field that says what it showed: it may show less than is kept.
/// </summary>
/// <param name="session">Whose preparation it is.</param>
/// <param name="before">The preparation as it stands.</param>
/// <param name="fields">Names and what was typed or chosen.</param>
/// <param name="end">The end that the files have now, in session samples.</param>
public sealed class PreparationEdit(Session session, Preparation before, IReadOnlyDictionary<string, string> fields, Func<long> end)
{
    /// <summary>The field of the format of clips.</summary>
    public const string File = "clips.file";

    /// <summary>The field of whether the files end at a chosen place, and not with the last sound.</summary>
    public const string ToChosen = "toChosen";

    /// <summary>What the fields of a format's own options begin with.</summary>
    public const string FormatPart = "options.";

    /// <summary>What the fields of a kind of files begin with; the kind follows, and the option after another dot.</summary>
    public const string KindPart = "kinds.";

    /// <summary>What the fields of accents begin with; a meter such as <c>7/8</c> follows.</summary>
    public const string AccentPart = "accents.";

    private string? _problem;

    /// <summary>The preparation with what the fields say.</summary>
    public Edit<Preparation> Apply()
    {
        var after = Typed("markers", PreparationOptions.Markers, Typed("files", PreparationOptions.Files, before, before), before);
        after = after with
        {
            Mix = Typed("mix", PreparationOptions.Mix, after.Mix, before.Mix),
            Kinds = Choices.FileKinds.Aggregate(after.Kinds, (kinds, k) => kinds.With(k.Value, Typed($"{KindPart}{k.Id}", PreparationOptions.Kind, kinds[k.Value], before.Kinds[k.Value]))),
            Midi = Typed("midi", PreparationOptions.Midi, after.Midi, before.Midi),
            Picture = Typed("picture", PreparationOptions.Picture, after.Picture, before.Picture),
            Click = Typed("click", PreparationOptions.Click, after.Click, before.Click) with { Accents = Accents() },
            Clips = Typed("clips", PreparationOptions.Clips, Format(after.Clips), before.Clips.AsFormatHas),
            ChosenEnd = fields.GetValueOrDefault(ToChosen) switch { "false" => null, "true" => after.ChosenEnd ?? end(), _ => after.ChosenEnd },
        };
        return (_problem ?? Impossible(after)) is { } problem ? new Refused(problem) : Made(before, after);
    }

    /// <summary>Moves the start of all files back to a beat, so that the grid begins on one.</summary>
    /// <param name="session">For positions.</param>
    /// <param name="before">The preparation as it stands.</param>
    /// <param name="start">The start that the files have now, in session samples.</param>
    public static Edit<Preparation> OnBeat(Session session, Preparation before, long start)
    {
        var beat = session.Meters.PositionAt(session.Clock.QuarterAt(start)) with { Tick = Rational.Zero };
        var sample = session.Clock.SampleAt(session.Meters.QuarterOf(beat));
        return new Edit<Preparation>(before with { From = RangeStart.Chosen, ChosenStart = sample }, $"files from {beat}, on a beat", null);
    }

    /// <summary>Takes the range of all files from a marker: its own length, or up to the next one, or to the end of the session.</summary>
    /// <param name="session">For markers and positions.</param>
    /// <param name="before">The preparation as it stands.</param>
    /// <param name="marker">The marker's identifier.</param>
    public static Edit<Preparation> RangeOf(Session session, Preparation before, string? marker)
    {
        if (session.Markers.FirstOrDefault(m => m.Id == marker) is not { } found)
        {
            return new Refused("This marker is not there any more.");
        }

        var end = found.Length > 0 ? found.Sample + found.Length : session.Markers.Where(m => m.Sample > found.Sample).Select(m => (long?)m.Sample).Min() ?? session.EndSample;
        return PastEnd(session, found.Sample) is { } past
            ? new Refused(past)
            : new Edit<Preparation>(before with { From = RangeStart.Chosen, ChosenStart = found.Sample, ChosenEnd = end }, $"files of {found.Text}", null);
    }

    /// <summary>Writes 32 bit float, which has nothing above full scale.</summary>
    public static Edit<Preparation> AsFloat(Preparation before) => Made(before, before with { Encoding = SampleEncoding.Float32, Container = SoundContainer.Wav });

    /// <summary>Takes stems and guide mix before the master's effects.</summary>
    public static Edit<Preparation> BeforeMaster(Preparation before) => Made(before, before with { Mix = before.Mix with { Master = StemMaster.Before } });

    /// <summary>Lowers all files by what is above full scale.</summary>
    public static Edit<Preparation> LowerOvers(Preparation before) => Made(before, before with { Overs = OversPolicy.Lower });

    /// <summary>Accepts that something goes without its sound, or takes that back.</summary>
    /// <param name="before">The preparation as it stands.</param>
    /// <param name="gaps">The names of what goes without its sound.</param>
    /// <param name="name">One of them.</param>
    /// <param name="accept">Whether it is accepted.</param>
    public static Edit<Preparation> Accept(Preparation before, IEnumerable<string> gaps, string name, bool accept) => !gaps.Contains(name)
        ? new Refused($"Nothing goes without its sound under the name \"{name}\".")
        : new Edit<Preparation>(accept ? before.Accepting([name]) : before.NotAccepting([name]), $"{name} {(accept ? "accepted" : "not accepted any more")}", null);

    /// <summary>Lets the smallest set of outputs go.</summary>
    public static Edit<Preparation> TakeSmallest(Preparation before, SmallestSet set)
    {
        bool Needs(OutputKind kind) => set.Uses.Any(u => u.Output.Kind == kind && u.IsNeeded);
        var extent = !Needs(OutputKind.Picture) ? PictureExtent.None : before.Picture.Extent == PictureExtent.None ? PictureExtent.Whole : before.Picture.Extent;
        return Made(before, before with
        {
            Mix = before.Mix with { Stems = Needs(OutputKind.Stems), Guide = Needs(OutputKind.GuideMix), Finished = Needs(OutputKind.FinishedMix) },
            Picture = before.Picture with { Extent = extent },
            Clips = before.Clips with { Format = set.Uses.FirstOrDefault(u => u is { IsNeeded: true, Output.Format: not null })?.Output.Format ?? before.Clips.Format },
        });
    }

    private static Edit<Preparation> Made(Preparation before, Preparation after) => new(after, Words(before, after), null);

    private static string Words(Preparation before, Preparation after)
    {
        string?[] clips = [before.Clips.Format == after.Clips.Format ? null : after.Clips.Format.Id, .. PreparationOptions.Clips.Changes(before.Clips, after.Clips), .. FormatWords(before.Clips, after.Clips)];
        return string.Join(", ", [
            .. PreparationOptions.Files.Changes(before, after), .. PreparationOptions.Mix.Changes(before.Mix, after.Mix), .. KindWords(before.Kinds, after.Kinds), .. PreparationOptions.Midi.Changes(before.Midi, after.Midi),
            .. PreparationOptions.Markers.Changes(before, after), .. PreparationOptions.Picture.Changes(before.Picture, after.Picture),
            .. PreparationOptions.Click.Changes(before.Click, after.Click), .. AccentWords(before.Click, after.Click), .. clips.OfType<string>().Select((c, i) => i == 0 ? $"clips: {c}" : c)]);
    }

    private static IEnumerable<string> KindWords(KindChoices before, KindChoices after) =>
        Choices.FileKinds.SelectMany(k => PreparationOptions.Kind.Changes(before[k.Value], after[k.Value]).Select(c => $"{k.Change}: {c}"));

    private static IEnumerable<string> FormatWords(ClipChoices before, ClipChoices after) =>
        after.Format.Options.Where(o => before.Options[o] != after.Options[o]).Select(o => $"{o.Name} {o.Find(after.Options[o])!.Words}");

    private static IEnumerable<string> AccentWords(ClickChoices before, ClickChoices after)
    {
        if (before.Accents != after.Accents)
        {
            yield return after.Accents.Count == 0 ? "usual accents" : $"accents {string.Join(", ", after.Accents.Select(a => $"{a.Beats}/{a.BeatUnit} as {a.Pattern}"))}";
        }
    }

    private string? Impossible(Preparation after)
    {
        foreach (var kind in Choices.FileKinds.Where(k => k.Value != FileKind.Clips))
        {
            if (Unheld(FileForm.Of(after, kind.Value, session.Rate)) is { } unheld)
            {
                return after.Kinds[kind.Value] == new KindChoice() ? unheld : $"{unheld} That is of the {kind.Words}.";
            }
        }

        if (RangeProblem(after) is { } range)
        {
            return range;
        }

        return after.Mix is { Copies: not ListeningCopies.None, CopyForm: ListeningForm.Mp3 } && CopiedRates(after).Where(r => !Audio.Files.CodedWriter.Holds(Audio.Files.CodedForm.Mp3, r)).Select(r => (SampleRate?)r).FirstOrDefault() is { } rate
            ? $"MP3 has no rate of {rate}. Take Ogg for the copies."
            : null;
    }

    private IEnumerable<SampleRate> CopiedRates(Preparation after) =>
        (after.Mix.Copies == ListeningCopies.GuideMix ? [FileKind.GuideMix, FileKind.FinishedMix] : Choices.FileKinds.Select(k => k.Value).Except([FileKind.Clips])).Select(k => FileForm.Of(after, k, session.Rate).Rate);

    private static string? Unheld(FileForm form) => new[] { form.Container }.Concat(form.Also is { } also ? [also] : []).Where(c => !Preparation.CanHold(c, form.Encoding)).Select(container =>
        container == SoundContainer.Flac && form.Encoding.IsFloat()
            ? "FLAC holds no float. Take WAV for 32 bit float, or 24 bit for FLAC."
            : $"{Choices.Containers[container].Words} does not hold {form.Encoding.Words()}. Take WAV, or 24 bit.").FirstOrDefault();

    // What stood so before is not held against another change.
    private string? RangeProblem(Preparation after)
    {
        var start = FilesStart.Of(session, after);
        return (FilesStart.Of(session, before), before.ChosenEnd) == (start, after.ChosenEnd) ? null
            : DeliveryRange.Problem(session, after) ?? (after.From == RangeStart.Chosen ? PastEnd(session, start) : null);
    }

    private static string? PastEnd(Session session, long start) => session.EndSample > 0 && start >= session.EndSample
        ? $"Nothing of the session lies at {session.TimecodeScale.At(start)} or later: it ends at {session.TimecodeScale.At(session.EndSample)}. Choose an earlier start."
        : null;

    private T Typed<T>(string part, OptionTable<T> options, T choices, T shown)
    {
        foreach (var option in options)
        {
            if (fields.TryGetValue($"{part}.{option.Id}", out var typed) && typed != OptionTyping.Shown(option, shown, session))
            {
                choices = OptionTyping.Take(option, choices, typed, session, out var problem);
                _problem ??= problem;
            }
        }

        return choices;
    }

    /// <summary>The format that was chosen, and what the one that was shown lets choose.</summary>
    private ClipChoices Format(ClipChoices clips)
    {
        var options = clips.Options;
        foreach (var option in clips.Format.Options)
        {
            if (!fields.TryGetValue(FormatPart + option.Id, out var value))
            {
                continue;
            }

            if (option.Find(value) is null)
            {
                _problem ??= $"There is no \"{value}\" here; {option.Name} can be {Phrases.List([.. option.Values.Select(v => v.Words)], "or")}.";
                continue;
            }

            options = options.With(option, value);
        }

        var id = fields.GetValueOrDefault(File, clips.Format.Id);
        if (SessionFormats.OfClips.FirstOrDefault(f => f.Id == id)?.Clips is not { } format)
        {
            _problem ??= $"There is no format of clips \"{id}\"; there are {SessionFormats.Words("and")}.";
            return clips;
        }

        return clips with { Format = format, Options = options };
    }

    /// <summary>Accents as typed; those of meters without a field stay, and all keep their order.</summary>
    private ValueArray<MeterAccents> Accents()
    {
        var kept = before.Click.Accents.Select(a => (Name: $"{AccentPart}{a.Beats}/{a.BeatUnit}", Accents: (MeterAccents?)a)).ToList();
        var known = kept.Select(k => k.Name).ToHashSet();
        var added = fields.Keys.Where(f => f.StartsWith(AccentPart, StringComparison.Ordinal) && !known.Contains(f)).Order(StringComparer.Ordinal).Select(f => (Name: f, Accents: (MeterAccents?)null));
        return kept.Concat(added).Select(k => fields.TryGetValue(k.Name, out var typed) ? Typed(k.Name[AccentPart.Length..], typed) : k.Accents).OfType<MeterAccents>().ToValueArray();
    }

    /// <summary>The accents of a meter; none where they are the usual ones anyway, so that they follow the rule.</summary>
    private MeterAccents? Typed(string meter, string typed)
    {
        if (meter.Split('/') is not [var b, var u] || !int.TryParse(b, out var beats) || !int.TryParse(u, out var unit) || unit is < 1 or > 255)
        {
            _problem ??= $"\"{meter}\" is no meter.";
            return null;
        }

        if (!AccentPattern.TryParse(typed, out var pattern) || pattern.Beats != beats)
        {
            _problem ??= $"\"{typed}\" does not add up to the {beats} beats of {meter}; write groups such as 2+2+3.";
            return null;
        }

        return pattern == AccentPattern.Usual(new MeterChange(1, beats, unit)) ? null : new MeterAccents(beats, unit, pattern);
    }
}
