using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Handover;

/// <summary>In which order a package is brought in, made of what is in it.</summary>
public static class HandoverSteps
{
    private const int MostPoints = 3;

    /// <summary>From the empty session to the check.</summary>
    public static ValueArray<HandoverStep> Of(DeliveryPlan plan) => [.. Steps(plan).Select(s => new HandoverStep(s.Do, s.Detail))];

    private static IEnumerable<(string Do, string Detail)> Steps(DeliveryPlan plan)
    {
        var session = plan.Session;
        yield return (
            $"New session at {plan.Timeline.Rate.Words}, {session.FrameRate.Name} frames, start {session.TimecodeScale.At(plan.Range.Start).Frame}.",
            $"{plan.Preparation.Encoding.Words()}. Anything else moves the clips.");
        yield return (
            $"Import {plan.Root}.mid with its tempo map, so that the grid is there first.",
            $"{Phrases.Count(session.Tempo.Points.Count, "tempo")}, {Phrases.Count(session.Meters.Changes.Count, "meter")}; bar 1 at sample {Digits.Grouped(plan.Timeline.Bar1Sample - plan.TimelineRange.Start)} of every file.");
        foreach (var step in Clips(plan).Concat(Sound(plan)).Concat(Beside(plan)))
        {
            yield return step;
        }

        var pairs = JoinedPairs.Of(plan);
        if (pairs.Count > 0)
        {
            yield return ($"Join {Phrases.Count(pairs.Count, "track")} that came apart.", Phrases.First([.. pairs.Select(p => string.Join(" and ", p.Parts.Select(x => $"{x.Name} ({Routing.TrackSettings.Pan(x.Pan)})")))], "; "));
        }

        var points = CheckPoints.Of(plan).Where(p => p.IsFirst).OrderBy(p => p.Sample).ToList();
        if (points.Count > 0)
        {
            var few = Enumerable.Range(0, Math.Min(MostPoints, points.Count)).Select(i => points[i * points.Count / Math.Min(MostPoints, points.Count)]);
            yield return ("Check a few places.", string.Join(" ", few.Select(p => $"{p.Track}, {p.What}, starts at {Digits.Grouped(p.Sample)}, {p.Timecode}{(p.GainDb is { } gain and not 0 ? $", {Decibels.Words(gain, 2)} dB" : string.Empty)}.")));
        }
    }

    // Several files of clips begin at the same place; what lies muted beneath is for whoever wants it.
    private static IEnumerable<(string Do, string Detail)> Clips(DeliveryPlan plan)
    {
        if (plan.Clips is not { } clips)
        {
            yield break;
        }

        var files = plan.Files.Where(f => f.Kind == PlannedKind.ClipFile).ToList();
        var beneath = files.Where(f => plan.ClipFiles[f.Part].Label == ClipGroups.Beneath).ToList();
        var beside = plan.Files.Any(f => f.Kind == PlannedKind.ClipMedia) ? $"Its sound lies beside it{(IsFlat(plan) ? string.Empty : " in media")}. " : "Its sound is in it. ";
        if (files.Count > beneath.Count)
        {
            yield return (
                $"Open or import {Phrases.List([.. files.Except(beneath).Select(Name)], "and")}{(files.Count - beneath.Count > 1 ? ", all at the same place" : string.Empty)}.",
                $"{beside}First sample {clips.Session.Start}; {Amounts([.. files.Except(beneath).SelectMany(f => plan.ClipFiles[f.Part].Session.Tracks)])}.");
        }

        if (beneath.Count > 0)
        {
            yield return ($"If you want the other forms or takes: import {Phrases.List([.. beneath.Select(Name)], "and")} beneath, and mute them.", $"{beside}{Amounts([.. beneath.SelectMany(f => plan.ClipFiles[f.Part].Session.Tracks)])}; they must not sound together with what they are forms of.");
        }
    }

    private static string Amounts(List<Track> tracks)
    {
        var clips = tracks.Where(t => t.Kind == TrackKind.Audio).SelectMany(t => t.Lanes).SelectMany(l => l.Clips).ToList();
        var (fades, gains, rides) = (clips.Sum(c => (c.FadeIn.Length > 0 ? 1 : 0) + (c.FadeOut.Length > 0 ? 1 : 0)), clips.Count(c => c.GainDb != 0 || c.GainCurve is not null), tracks.Count(t => t.FaderAutomation is not null));
        return string.Join(", ", new[] { (tracks.Count(t => t.Kind == TrackKind.Audio), "track"), (clips.Count, "clip"), (fades, "fade"), (gains, "clip gain"), (rides, "ride") }.Where(a => a.Item1 > 0).Select(a => Phrases.Count(a.Item1, a.Item2)));
    }

    private static IEnumerable<(string Do, string Detail)> Sound(DeliveryPlan plan)
    {
        var (prints, stems) = (Of(plan, PlannedKind.FromZero), Of(plan, PlannedKind.Stem));
        if (prints.Count > 0)
        {
            yield return (Add(plan, prints, "audio"), Muted(plan));
        }

        if (stems.Count > 0)
        {
            var either = prints.Count > 0 || plan.Clips is not null;
            yield return (
                either ? $"Stems or tracks, not both: {Where(plan, stems, "stems")} by themselves sum to the mix." : Add(plan, stems, "stems"),
                either ? $"To work from stems, leave the tracks out; {At(plan, stems)}." : "At unity they sum to the mix.");
        }

        foreach (var mix in Of(plan, PlannedKind.GuideMix).Concat(Of(plan, PlannedKind.FinishedMix)))
        {
            yield return ($"Hear {Short(plan, mix)} first, and keep it muted.", $"It is what you should hear; {At(plan, [mix])}.");
        }
    }

    private static IEnumerable<(string Do, string Detail)> Beside(DeliveryPlan plan)
    {
        foreach (var click in Of(plan, PlannedKind.Click))
        {
            yield return ($"Add {Short(plan, click)} as the click.", $"{(plan.Preparation.Click.CountInBars == 0 ? "No count-in" : $"{Phrases.Count(plan.Preparation.Click.CountInBars, "bar")} of count-in")}; {At(plan, [click])}.");
        }

        if (plan.Picture is { } picture)
        {
            yield return ($"Import {picture.Path} at {picture.Start}.", picture.Sample == plan.Range.Start ? "All files start there." : $"All files start {picture.Against}.");
        }
    }

    // Where other kinds of files have a place of their own it is said, in the words of their time stamps.
    private static string At(DeliveryPlan plan, List<PlannedFile> files)
    {
        var rate = plan.Session.Rate;
        var starts = files.Select(f => f.Span.Start == rate.Convert(plan.Range.Start, f.Made.Rate) ? plan.Range.Start : f.Made.Rate.Convert(f.Span.Start, rate)).Distinct().ToList();
        return starts is not [var start] ? "each at its time stamp"
            : start == plan.Range.Start ? "at the start (their time stamps say the same place)"
            : $"at {plan.Session.TimecodeScale.At(start)}, by its time stamp";
    }

    private static string Muted(DeliveryPlan plan)
    {
        var beneath = plan.Preparation.Tracks.Count(c => c.Of is not null && c.Treatment.IsPrint());
        return (plan.Clips is not null ? "What is printed is not among the clips as sound that plays. " : string.Empty) + (beneath > 0 ? $"{Phrases.Count(beneath, "file")} of these {(beneath == 1 ? "is another form" : "are other forms")} of a track that goes already: mute {(beneath == 1 ? "it" : "them")}." : string.Empty);
    }

    private static List<PlannedFile> Of(DeliveryPlan plan, PlannedKind kind) => [.. plan.Files.Where(f => f.Kind == kind)];

    private static string Add(DeliveryPlan plan, List<PlannedFile> files, string folder) => $"Add {Where(plan, files, folder)}{(files.Count == 1 ? string.Empty : ": one track a file,")} {At(plan, files)}.";

    private static string Where(DeliveryPlan plan, List<PlannedFile> files, string folder) =>
        files.Count == 1 ? Short(plan, files[0]) : IsFlat(plan) ? $"the {Phrases.Count(files.Count, "file")} {(folder == "stems" ? "of stems" : "of tracks")}" : $"the {Phrases.Count(files.Count, "file")} in {folder}";

    private static bool IsFlat(DeliveryPlan plan) => plan.Preparation.Sheet?.Folders == FolderLayout.Flat;

    private static string Short(DeliveryPlan plan, PlannedFile file) => file.Path[(plan.Root.Length + 1)..];

    private static string Name(PlannedFile file) => file.Path[(file.Path.LastIndexOf('/') + 1)..];
}
