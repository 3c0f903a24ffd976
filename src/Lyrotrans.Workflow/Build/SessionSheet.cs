using Lyrotrans.Core.Carrying;
using System.Text;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Handover;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Build;

/// <summary>The sheet that a person reads: what is in the package, in which order to bring it in, and what could not come.</summary>
public static class SessionSheet
{
    private const int MostObjects = 20;

    /// <summary>The sheet as HTML, in UTF-8.</summary>
    public static string Write(DeliveryPlan plan, SoundGaps gaps, IReadOnlyList<ManifestFile> written, double loweredDb, DateTimeOffset stamp)
    {
        var session = plan.Session;
        var html = new StringBuilder();
        html.Append(SheetPage.Begin($"{session.Name}: session sheet"));
        html.Append($"<h1>{E(session.Name)}</h1><p>Session sheet, written {E(stamp.ToString("yyyy-MM-dd HH:mm", System.Globalization.CultureInfo.InvariantCulture))} UTC by Lyrotrans.</p>");
        Gaps(html, gaps);
        Answers(html, plan.Preparation);
        Notes(html, session);
        Facts(html, plan, loweredDb);
        Steps(html, plan);
        CheckPlaces(html, plan);
        Files(html, plan, written);
        Musical(html, session);
        Settings(html, plan.Said);
        HeldBack(html, plan);
        return html.Append(SheetPage.End).ToString();
    }

    private static void Gaps(StringBuilder html, SoundGaps gaps)
    {
        if (gaps.All.Count == 0)
        {
            return;
        }

        html.Append($"<h2>Without sound</h2><p>Of {Digits.Grouped(gaps.Clips)} clips that go {Digits.Grouped(gaps.SilentClips)} have no sound.</p><table><tr><th>what<th>why<th>lacks it<th>the sender</tr>");
        foreach (var gap in gaps.All)
        {
            html.Append($"<tr><td>{E(gap.Of)}<td>{E(gap.Why)}<td>{E(string.Join(", ", gap.Objects.Take(MostObjects)))}{(gap.Objects.Count > MostObjects ? $" and {Digits.Grouped(gap.Objects.Count - MostObjects)} more" : string.Empty)}<td>{(gap.IsAccepted ? "accepted it" : "did not accept it")}</tr>");
        }

        html.Append("</table>");
    }

    private static void Answers(StringBuilder html, Preparation preparation)
    {
        if (preparation.Answers.Count == 0)
        {
            return;
        }

        html.Append("<h2>What the sender saw</h2><table><tr><th>what<th>the sender<th>says</tr>");
        foreach (var answer in preparation.Answers)
        {
            html.Append($"<tr><td>{E(answer.Words)}<td>{(answer.Accepted ? "left it so" : "notes it")}<td>{E(answer.Note)}</tr>");
        }

        html.Append("</table>");
    }

    private static void Notes(StringBuilder html, Session session)
    {
        var notes = session.Tracks.SelectMany(t => t.Lanes.SelectMany(l => l.Clips).Where(c => c.Note.Length > 0).Select(c => (Track: t, Clip: (Clip?)c, c.Note)).Prepend((t, null, t.Note))).Where(n => n.Note.Length > 0).ToList();
        if (notes.Count == 0)
        {
            return;
        }

        html.Append("<h2>Notes</h2><table><tr><th>track<th>clip<th class=n>session sample<th>the sender says</tr>");
        foreach (var (track, clip, note) in notes)
        {
            html.Append($"<tr><td>{E(track.Name)}<td>{E(clip?.Name ?? "all of it")}<td class=n>{(clip is null ? "" : Digits.Grouped(clip.Start))}<td>{E(note)}</tr>");
        }

        html.Append("</table>");
    }

    private static void Facts(StringBuilder html, DeliveryPlan plan, double loweredDb)
    {
        var session = plan.Session;
        var scale = session.TimecodeScale;
        html.Append("<h2>Facts</h2><table>");
        Fact(html, "Rate", plan.Timeline.Rate == session.Rate ? $"{session.Rate}" : $"{plan.Timeline.Rate}; the session was made at {session.Rate}, and its document says places so");
        Fact(html, "Files", $"{plan.Preparation.Container.ToString().ToUpperInvariant()}, {plan.Preparation.Encoding.Words()}");
        foreach (var (name, words) in OtherKinds(plan))
        {
            Fact(html, name, words);
        }

        foreach (var (rate, samples) in plan.Moves)
        {
            Fact(html, $"Places at {rate}", samples == 0 ? "all lie on whole samples" : $"go to the nearest sample: by at most {samples.ToString("0.###", System.Globalization.CultureInfo.InvariantCulture)} samples of {rate}; sound is converted where it lies and does not move");
        }

        Fact(html, "Frame rate", session.FrameRate.Name);
        Fact(html, "All files start at", $"{scale.At(plan.Range.Start)} (session sample {Digits.Grouped(plan.Range.Start)}, time stamp {Digits.Grouped(TimeReference(plan))})");
        Fact(html, "All files are", $"{Digits.Grouped(plan.TimelineRange.Length)} samples long");
        if (loweredDb < 0)
        {
            Fact(html, "All sound files are lowered by", $"{Decibels.Words(-loweredDb)} dB, so that the loudest stays below full scale; raise them by as much to have the levels of the session");
        }

        if (Oversampled(plan) is { Length: > 0 } oversampled)
        {
            Fact(html, "Effects oversampled", $"{oversampled}; the settings below are the session's own");
        }

        if (plan.CutTail > 0)
        {
            Fact(html, "The longest tail is cut", $"{Digits.Grouped(plan.CutTail)} samples before it has fallen by 120 dB");
        }

        if (plan.Picture is { } picture)
        {
            var (own, sound) = (picture.OwnStart, session.Picture!.SoundChannels > 0 ? "; its sound was left out" : string.Empty);
            Fact(html, "Picture", $"{picture.Path}: {(own is { } code ? $"its first frame is {code} at {code.Rate.Name} frames" : $"it begins at {picture.Start}")}; all files start {picture.Against}{sound}");
        }

        Fact(html, "Bar 1 lies at", $"sample {Digits.Grouped(BarOne(plan))} of every file");
        html.Append("</table>");
    }

    private static long BarOne(DeliveryPlan plan) => plan.Timeline.Bar1Sample - plan.TimelineRange.Start;

    // The time stamp that files have which begin where all do.
    private static long TimeReference(DeliveryPlan plan) => PackageBuilder.TimeReference(plan, plan.Forms.File(string.Empty, PlannedKind.FromZero, FileKind.Tracks, 1) with { Form = plan.Forms[FileKind.Tracks] with { Rate = plan.Timeline.Rate }, Span = plan.TimelineRange });

    // Kinds of files that go and are not as all files.
    private static IEnumerable<(string Name, string Words)> OtherKinds(DeliveryPlan plan) => plan.Files.Where(f => f.IsSound)
        .GroupBy(f => f.Kind switch { PlannedKind.Stem => "Stems", PlannedKind.GuideMix => "Guide mix", PlannedKind.FinishedMix => "Finished mix", PlannedKind.Click => "Click", _ => FileKinds.Of(plan.Session.Tracks.First(t => t.Id == f.TrackId)) == FileKind.Returns ? "Returns" : "Tracks" })
        .Select(g => (g.Key, File: g.First()))
        .Where(k => k.File.Made != FileForm.Of(plan.Preparation with { Kinds = new() }, FileKind.Tracks, plan.Session.Rate) || (k.Key != "Click" && k.File.Span != plan.TimelineRange))
        .Select(k => (k.Key, $"{Choices.Containers[k.File.Made.Container].Words}{(k.File.Made.Also is { } also ? $" and {Choices.Containers[also].Words}" : string.Empty)}, {k.File.Made.Encoding.Words()}, {k.File.Made.Rate}, {Digits.Grouped(k.File.Frames)} samples from {plan.Session.TimecodeScale.At(k.File.Made.Rate.Convert(k.File.Span.Start, plan.Session.Rate))}"));

    // What was rendered otherwise than the session says.
    private static string Oversampled(DeliveryPlan plan)
    {
        var names = plan.Session.Tracks.ToDictionary(t => t.Id, t => t.Name);
        return string.Join(", ", plan.Preparation.Tracks.Where(c => c.Of is null).SelectMany(c => c.Oversampled.Select(o => $"{o.Effect} on {names[c.TrackId]} {Phrases.Count(o.Times, "time")}"))
            .Prepend(plan.Preparation.Oversampling is { } all ? $"all that can be {Phrases.Count(all, "time")}" : string.Empty).Where(w => w.Length > 0));
    }

    private static void Steps(StringBuilder html, DeliveryPlan plan)
    {
        html.Append("<h2>In this order</h2><ol>");
        foreach (var step in HandoverSteps.Of(plan))
        {
            html.Append($"<li><b>{E(step.Do)}</b> {E(step.Detail)}</li>");
        }

        html.Append($"</ol><p>The MIDI file holds tempo in whole microseconds; its grid strays from the sound at any beat, note, controller and marker by at most {E(MeantMidi.Drift(plan, plan.Preparation.Midi.Tempo).ToString())}.</p>");
        Click(html, plan);
        if (plan.Clips is { Notes.Count: > 0 })
        {
            html.Append($"<p>In the {plan.Preparation.Clips.Format}:</p><ul>{string.Concat(plan.Clips.Notes.Select(n => $"<li>{E(n)}</li>"))}</ul>");
        }
    }

    private static void CheckPlaces(StringBuilder html, DeliveryPlan plan)
    {
        var (points, pairs) = (CheckPoints.Of(plan), JoinedPairs.Of(plan));
        if (points.Count > 0)
        {
            html.Append("<h2>Places to check by</h2><p>Samples count from the start of the new session.</p><table><tr><th>track<th>first or last<th class=n>sample<th class=n>timecode<th class=n>bar.beat.tick<th class=n>gain</tr>");
            foreach (var point in points)
            {
                html.Append($"<tr><td>{E(point.Track)}<td>{(point.IsFirst ? "first" : "last")}: {E(point.What)}<td class=n>{Digits.Grouped(point.Sample)}<td class=n>{E(point.Timecode)}<td class=n>{E(point.Bar)}<td class=n>{(point.GainDb is { } gain ? $"{Decibels.Words(gain, 2)} dB" : "in the sound")}</tr>");
            }

            html.Append("</table>");
        }

        if (pairs.Count > 0)
        {
            html.Append("<h2>Tracks that came apart</h2><table><tr><th>track<th>arrives as<th>pan</tr>");
            foreach (var (pair, part, i) in pairs.SelectMany(p => p.Parts.Select((part, i) => (p, part, i))))
            {
                html.Append($"<tr><td>{(i == 0 ? E(pair.Track) : "")}<td>{E(part.Name)}<td>{E(TrackSettings.Pan(part.Pan))}</tr>");
            }

            html.Append("</table>");
        }
    }

    private static void Click(StringBuilder html, DeliveryPlan plan)
    {
        var click = plan.Preparation.Click;
        if (!click.Goes)
        {
            return;
        }

        var early = plan.Range.Start - plan.ClickRange.Start;
        var bars = click.CountInBars == 0 ? "no count-in" : $"{Phrases.Count(click.CountInBars, "bar")} of count-in";
        var where = early > 0 && click.Print
            ? $"The click file alone begins {Digits.Grouped(early)} samples before the others, at {E(plan.Session.TimecodeScale.At(plan.ClickRange.Start).ToString())}: place it by its time stamp, or that much earlier."
            : "It begins where all files begin.";
        html.Append($"<p>Click: {bars}, the bar's first beat peaks at {Decibels.Words(click.LevelDb)} dBFS. {where}</p>");
    }

    private static void Files(StringBuilder html, DeliveryPlan plan, IReadOnlyList<ManifestFile> written)
    {
        var names = plan.Session.Tracks.ToDictionary(t => t.Id, t => t.Name);
        var inverted = plan.Preparation.Tracks.Where(c => c.Inverted).Select(c => c.TrackId).ToHashSet();
        var mixed = MixWords(plan);
        html.Append("<h2>Files</h2><table><tr><th>file<th>track<th class=n>channels<th class=n>samples<th class=n>size<th>SHA-256</tr>");
        foreach (var file in written)
        {
            var track = file.Plan.TrackId is { } id ? names[id] : file.Plan.Kind == PlannedKind.Click ? "Click" : "";
            track += mixed(file.Plan);
            track += file.Plan is { Kind: PlannedKind.FromZero, TrackId: { } printed } ? PrintWords(plan, printed, names) : string.Empty;
            track += file.Plan.Kind == PlannedKind.FromZero && inverted.Contains(file.Plan.TrackId!) ? ", polarity inverted" : string.Empty;
            html.Append($"<tr><td>{E(file.Plan.Path[(plan.Root.Length + 1)..])}<td>{E(track)}<td class=n>{(file.Plan.Channels > 0 ? file.Plan.Channels : "")}");
            html.Append($"<td class=n>{(file.Plan.Frames > 0 ? Digits.Grouped(file.Plan.Frames) : "")}<td class=n>{Digits.Bytes(file.Bytes)}<td><code>{file.Sha256}</code></tr>");
        }

        html.Append("</table>");
    }

    // What a print lacks that the session has, and what sounds where it is another form of a track.
    private static string PrintWords(DeliveryPlan plan, string trackId, Dictionary<string, string> names)
    {
        var choice = plan.Preparation.Tracks.First(c => c.TrackId == trackId);
        var track = plan.Session.Tracks.First(t => t.Id == trackId);
        var pan = choice.Treatment != Treatment.PrintLevel ? string.Empty : track.PanAutomation is null ? $", without its pan: {TrackSettings.Pan(track.Pan)}" : ", without its pan, which moves";
        var without = choice.Without.Count > 0 && choice.Treatment.IsThrough() ? $", without {Phrases.List([.. choice.Without], "and")}" : string.Empty;
        var beneath = choice.Of is { } of ? $", muted beneath: {names[of]} sounds as {plan.Preparation.Tracks.First(c => c.TrackId == of).Treatment.Words()}" : string.Empty;
        return pan + without + beneath;
    }

    // What sounds in a mix, where that is another thing than what goes.
    private static Func<PlannedFile, string> MixWords(DeliveryPlan plan)
    {
        if (plan.Preparation.Mix.Sounding == MixSounding.WhatGoes)
        {
            return _ => string.Empty;
        }

        var (words, roles) = (MixTracks.Words(plan.Session, plan.Preparation), TrackRoles.Of(plan.Session));
        var targets = plan.Session.Tracks.Where(t => t.Kind is TrackKind.Bus or TrackKind.Return && roles.PrintOf(t.Id) is null).Select(t => t.Id).ToHashSet();
        return file => file.Kind == PlannedKind.GuideMix && roles.Guide is null ? $"mix of {words}" : file.Kind == PlannedKind.FinishedMix ? $"mix of {words}, through the master" : file.Kind == PlannedKind.FromZero && targets.Contains(file.TrackId!) ? $", of {words}" : string.Empty;
    }

    private static void Musical(StringBuilder html, Session session)
    {
        var clock = session.Clock;
        html.Append("<h2>Tempo, meters, markers</h2><table><tr><th>what<th>value<th class=n>bar.beat.tick<th class=n>session sample</tr>");
        foreach (var point in session.Tempo.Points)
        {
            Row("tempo", System.FormattableString.Invariant($"{point.QuartersPerMinute.ToDouble():0.###} quarters a minute{(point.Ramp ? ", ramp to the next" : "")}"), point.Quarter);
        }

        foreach (var meter in session.Meters.Changes)
        {
            Row("meter", meter.ToString(), session.Meters.StartOfBar(meter.Bar));
        }

        foreach (var key in session.Keys)
        {
            Row("key", key.Name, key.Quarter);
        }

        foreach (var marker in session.Markers)
        {
            Row("marker", string.Join(", ", new[] { marker.Text, marker.By, marker.Date }.Where(t => t.Length > 0)), clock.QuarterAt(marker.Sample));
        }

        html.Append("</table>");
        void Row(string what, string value, Core.Time.Rational quarter) => html.Append(
            $"<tr><td>{what}<td>{E(value)}<td class=n>{session.Meters.NearestTick(quarter)}<td class=n>{Digits.Grouped(clock.SampleAt(quarter))}</tr>");
    }

    private static void Settings(StringBuilder html, Session session)
    {
        html.Append("<h2>Settings to set up by</h2><table><tr><th>track<th>what<th>of<th>value</tr>");
        var before = 0;
        foreach (var setting in TrackSettings.Of(session))
        {
            html.Append($"<tr><td>{(setting.Number == before ? "" : E(setting.Track))}<td>{setting.What}{(setting.IsOff ? ", switched off" : "")}<td>{E(setting.Of)}<td>{E(setting.Value)}</tr>");
            before = setting.Number;
        }

        html.Append("</table>");
    }

    private static void HeldBack(StringBuilder html, DeliveryPlan plan)
    {
        var rows = CarryPlan.Of(plan);
        var roles = TrackRoles.Of(plan.Session);
        var held = plan.Preparation.Tracks.Where(c => c.Treatment == Treatment.HoldBack).Select(c => c.TrackId).ToHashSet();
        html.Append("<h2>What did not come as sound</h2><table><tr><th>track<th>why</tr>");
        foreach (var track in plan.Session.Tracks.Where(t => held.Contains(t.Id)))
        {
            var why = track.Kind.HasRole() ? $"it came along as the {roles.Words(track)}"
                : track.Kind.IsSource() ? $"held back{(track.State == TrackState.Active ? "" : $"; it is {track.State.Words()}")}"
                : $"a {track.Kind.Words()}: kept as a record in the session document only";
            html.Append($"<tr><td>{E(track.Name)}<td>{E(why)}</tr>");
        }

        html.Append($"</table><h2>Carry plan</h2><table><tr><th>kind<th class=n>in the session{string.Concat(rows.Columns.Select(c => $"<th class=n>in {(c == "record" ? "the record" : c)}"))}<th class=n>held back</tr>");
        var last = rows.Columns.Count - 1;
        foreach (var row in rows.Rows)
        {
            var brought = Enumerable.Range(0, rows.Columns.Count).Select(c => $"<td class=n>{row.Count(c, Fate.Carried) + row.Count(c, Fate.Converted) + row.Count(c, Fate.Printed)}");
            html.Append($"<tr><td>{row.Kind}<td class=n>{row.Objects.Count}{string.Concat(brought)}<td class=n>{row.Count(last, Fate.HeldBack)}</tr>");
        }

        html.Append("</table>");
    }

    private static void Fact(StringBuilder html, string name, string value) => html.Append($"<tr><td>{E(name)}<td>{E(value)}</tr>");

    private static string E(string text) => SheetPage.Escaped(text);
}
