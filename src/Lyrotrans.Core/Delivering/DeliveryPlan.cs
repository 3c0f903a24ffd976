using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Joining;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>What a build of a prepared session writes: the list of files first, then the build follows it.</summary>
public sealed class DeliveryPlan
{
    private DeliveryPlan(Session session, Preparation preparation, SampleRange range, ValueArray<PlannedFile> files, string root, ClipPlan? clips, ValueArray<ClipPlan> clipFiles, KindForms forms)
    {
        Forms = forms;
        ClipFiles = clipFiles;
        Problem = DeliveryRange.Problem(session, forms.RangeOf, preparation.Kinds) ?? (clips is null ? null : ClipParts.Problem(clipFiles, preparation.Clips)) ?? PlanProblem.Of(session, preparation, files);
        ClickRange = forms.RangeOf(FileKind.Click);
        Session = session;
        Said = session;
        Preparation = preparation;
        Range = range;
        Files = files;
        Root = root;
        Clips = clips;
    }

    /// <summary>What is delivered.</summary>
    public Session Session { get; }

    /// <summary>The same session with its effects as it says itself, and not as they are oversampled here.</summary>
    public Session Said { get; private init; }

    /// <summary>How it is delivered.</summary>
    public Preparation Preparation { get; }

    /// <summary>What all files cover of whose kind nothing else was chosen, in session samples.</summary>
    public SampleRange Range { get; }

    /// <summary>How the files of each kind are made, and what they cover.</summary>
    public KindForms Forms { get; }

    /// <summary>The session samples that any file of sound covers.</summary>
    public SampleRange Covered => field != default ? field : field = Choices.FileKinds.Select(k => Forms.RangeOf(k.Value))
        .Aggregate(Range, (all, range) => new SampleRange(Math.Min(all.Start, range.Start), Math.Max(all.End, range.End)));

    /// <summary>The session as all receivers of places are told of it: in samples of the delivered rate.</summary>
    public Session Timeline => field ??= AtRate(Session, Preparation.RateOf(Session.Rate));

    /// <summary>What all files cover, in samples of the delivered rate.</summary>
    public SampleRange TimelineRange => new(Session.Rate.Convert(Range.Start, Timeline.Rate), Session.Rate.Convert(Range.End, Timeline.Rate));

    /// <summary>The session as a file of clips is told of it: in samples of its rate, and with what it mutes.</summary>
    public Session ClipSession => field ??= ClipsAt(Said, Preparation, Forms[FileKind.Clips].Rate);

    /// <summary>Rates other than the session's at which places are said, and by how many samples of them the farthest boundary moves: a place between two samples goes to the nearest.</summary>
    public IReadOnlyList<(SampleRate Rate, double Samples)> Moves => field ??=
        [.. new[] { Timeline.Rate, Forms[FileKind.Clips].Rate }.Distinct().Where(r => r != Session.Rate).Select(r => (r, SessionMove.LargestMove(Session, r)))];

    /// <summary>What the click's sound covers, in session samples: the same, or a count-in more.</summary>
    public SampleRange ClickRange { get; }

    /// <summary>The tracks that are kept as clips; null where there are none.</summary>
    public ClipPlan? Clips { get; }

    /// <summary>The files of clips that they become, by <see cref="PlannedFile.Part"/>; one, unless it would be too large.</summary>
    public ValueArray<ClipPlan> ClipFiles { get; }

    /// <summary>The reference picture as a file; null where none goes.</summary>
    public PicturePlan? Picture { get; private init; }

    /// <summary>Why it cannot be built as it is; null where it can.</summary>
    public string? Problem { get; }

    /// <summary>In the order of writing.</summary>
    public ValueArray<PlannedFile> Files { get; }

    /// <summary>The folder that everything in the package lies in.</summary>
    public string Root { get; }

    /// <summary>Sizes added up, in bytes.</summary>
    public long Bytes => Files.Sum(f => f.Bytes);

    /// <summary>Plans every file of a package.</summary>
    /// <param name="session">What is delivered.</param>
    /// <param name="preparation">How it is delivered.</param>
    /// <param name="sounds">What was measured of media, by their identifiers; what was not measured counts as sounding.</param>
    public static DeliveryPlan Make(Session session, Preparation preparation, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        (session, preparation) = TakeTracks.Of(session, preparation.For(session));
        (session, preparation) = BeneathTracks.Of(session, preparation);
        preparation = ChannelsByKind.Of(session, preparation);
        var said = session;
        session = EffectOversampling.Of(session, preparation);
        var range = DeliveryRange.Of(session, preparation, sounds);
        var root = LegalName.From(preparation.ReplyTo is null ? session.Name : $"{session.Name} reply");
        var names = DeliveredNames.Of(session, preparation);
        var forms = new KindForms(session, preparation, range, sounds);
        var tracks = session.Tracks.ToDictionary(t => t.Id);
        var roles = TrackRoles.Of(session);
        var files = new List<PlannedFile>();
        foreach (var choice in preparation.Tracks.Where(c => c.Treatment.IsPrint()))
        {
            files.AddRange(PrintsOf(tracks[choice.TrackId], choice, roles, $"{root}/audio/{names[choice.TrackId]}", forms));
        }

        if (preparation.Click.Print)
        {
            files.AddRange(forms.Files($"{root}/audio/{ClickName(session, preparation, names)}", PlannedKind.Click, FileKind.Click, 1));
        }

        files.AddRange(MixFiles(session, preparation, root, forms));
        files.AddRange(KindForms.SameSounds(files).ToList());
        files.AddRange(Copies(files, preparation.Mix, root));
        var clips = ClipPlan.IsWanted(preparation) ? ClipPlan.Make(ClipsAt(said, preparation, forms[FileKind.Clips].Rate), preparation) : null;
        var parts = clips is null ? [] : ClipGroups.Of(clips, session, preparation);
        files.AddRange(clips is null ? [] : FilesOf(clips, parts, preparation.Clips, root));
        var picture = PicturePlan.Of(session, preparation);
        if (picture is not null)
        {
            files.Add(new PlannedFile($"{root}/{picture.Path}", PlannedKind.Picture, Bytes: picture.Bytes));
        }

        var notes = session.Tracks.Sum(t => t.Parts.Sum(p => p.Notes.Count + p.Controls.Count));
        files.Add(new PlannedFile($"{root}/{root}.mid", PlannedKind.Midi, Bytes: 400 + (preparation.Midi.Form == MidiForm.FilePerPart ? 0 : notes * 8L)));
        files.AddRange(PartFiles(session, preparation, names, root));
        files.Add(new PlannedFile($"{root}/{root}.session.json", PlannedKind.SessionDocument, Bytes: 2000 + (ClipCount(session) * 330L) + (notes * 40L)));
        if (session.Markers.Count > 0 && preparation.Markers != MarkersForm.None)
        {
            files.Add(new PlannedFile($"{root}/{root}_markers.csv", PlannedKind.MarkerList, Bytes: 100 + (session.Markers.Count * 90L)));
        }

        if (preparation.Mix.Levels && files.Exists(f => f.IsSound))
        {
            files.Add(new PlannedFile($"{root}/{root}_levels.csv", PlannedKind.LevelTable, Bytes: 200 + (files.Count(f => f.IsSound) * 120L)));
        }

        files.Add(new PlannedFile($"{root}/{root}_settings.csv", PlannedKind.SettingsTable, Bytes: 100 + (session.Tracks.Count * 200L)));
        files.Add(new PlannedFile($"{root}/Session_sheet.html", PlannedKind.SessionSheet, Bytes: 8000 + (files.Count * 300L)));
        files.Add(new PlannedFile($"{root}/manifest.json", PlannedKind.Manifest, Bytes: 1000 + (files.Count * 300L)));
        files.Add(new PlannedFile($"{root}/SHA256SUMS", PlannedKind.Checksums, Bytes: files.Count * 100L));
        files.Add(new PlannedFile($"{root}/manifest.sig", PlannedKind.Signature, Bytes: 400));
        files = preparation.Sheet?.Folders == FolderLayout.Flat ? FlatFolder.Of(files, root) : files;
        return new DeliveryPlan(session, preparation, range, files.ToValueArray(), root, clips, parts, forms) { Said = said, Picture = picture, CutTail = DeliveryRange.CutTail(session, preparation, sounds) };
    }

    private static Session ClipsAt(Session session, Preparation preparation, SampleRate rate) => AtRate(ClipGroups.Muted(session, preparation), rate);

    private static Session AtRate(Session session, SampleRate rate) => rate == session.Rate ? session : SessionMove.Exactly(session, rate);

    private static IEnumerable<PlannedFile> PrintsOf(Track track, TrackChoice choice, TrackRoles roles, string path, KindForms forms)
    {
        var kind = FileKinds.Of(track);

        // What a track without sound of its own sounds like is no record of anything; a stand-in says that it is one.
        var name = choice.Treatment == Treatment.NotesAndPrint && roles.PrintOf(track.Id) is null ? $"{path}_stand-in" : path;
        var channels = ChannelsOf(track, choice, roles);
        if (choice.Channels != DeliveredChannels.Separate || channels == 1)
        {
            return [forms.File(name, PlannedKind.FromZero, kind, channels) with { TrackId = track.Id }];
        }

        return Enumerable.Range(0, channels).Select(c => forms.File($"{name}_{KindForms.ChannelName(c, channels)}", PlannedKind.FromZero, kind, 1) with { TrackId = track.Id, Channel = c });
    }

    private static IEnumerable<PlannedFile> MixFiles(Session session, Preparation preparation, string root, KindForms forms)
    {
        var groups = StemGroup.Of(session, preparation);
        var channels = SignalPaths.Of(session).Master.Channels;
        if (preparation.Mix.Stems)
        {
            var names = LegalName.Unique(groups.Select((g, i) => LegalName.From($"{i + 1:00}_{g.Name}")));
            foreach (var (group, name) in groups.Zip(names))
            {
                foreach (var file in forms.Files($"{root}/stems/{name}", PlannedKind.Stem, FileKind.Stems, channels))
                {
                    yield return file with { Group = group.Name };
                }
            }
        }

        var guide = TrackRoles.Of(session).Guide;
        if (preparation.Mix.Guide && (guide is not null || MixTracks.Of(session, preparation).Count > 0))
        {
            foreach (var file in forms.Files($"{root}/mix/{root}_guide_mix", PlannedKind.GuideMix, FileKind.GuideMix, guide?.Channels ?? channels))
            {
                yield return file;
            }
        }

        if (preparation.Mix.Finished && MixTracks.Of(session, preparation).Count > 0)
        {
            foreach (var file in forms.Files($"{root}/mix/{root}_finished_mix", PlannedKind.FinishedMix, FileKind.FinishedMix, 2))
            {
                yield return file;
            }
        }
    }

    private static List<PlannedFile> Copies(List<PlannedFile> files, MixChoices mix, string root)
    {
        var copied = files.Where(f => f.IsSound && (mix.Copies == ListeningCopies.All || (mix.Copies == ListeningCopies.GuideMix && f.Kind is (PlannedKind.GuideMix or PlannedKind.FinishedMix)))).ToList();
        var names = LegalName.Unique(copied.Select(f => f.Path[(f.Path.LastIndexOf('/') + 1)..f.Path.LastIndexOf('.')]));
        var extension = mix.CopyForm == ListeningForm.Mp3 ? ".mp3" : ".ogg";

        // About what the codecs make of music at the quality that is asked of them where no bit rate is: a twelfth of 24 bits.
        return copied.Zip(names, (f, name) => new PlannedFile(
            $"{root}/listen/{name}{extension}", PlannedKind.ListeningCopy, f.TrackId, Math.Min(2, f.Channels), f.Frames, mix.CopyRate is { } rate ? (long)(f.Made.Rate.SecondsOf(f.Frames).ToDouble() * rate * 125) : f.Frames * Math.Min(2, f.Channels) / 4, Of: f.Path)
        { Form = f.Form, Span = f.Span }).ToList();
    }

    /// <summary>The session as MIDI files are told of it, in samples of the delivered rate: without its markers where they are not to be in them.</summary>
    public Session Musical => field ??= Preparation.Markers == MarkersForm.All ? Timeline : Timeline with { Markers = [] };

    /// <summary>The notes tracks that go, in the order of delivery.</summary>
    public IEnumerable<Track> NotesTracks()
    {
        var tracks = Session.Tracks.ToDictionary(t => t.Id);
        return Preparation.Tracks.Where(c => c.Treatment.HasNotes()).Select(c => tracks[c.TrackId]);
    }

    private static IEnumerable<PlannedFile> FilesOf(ClipPlan clips, ValueArray<ClipPlan> parts, ClipChoices choices, string root)
    {
        foreach (var medium in choices.MediaForm.IsBeside() ? clips.Media.Where(m => !m.IsMissing) : [])
        {
            yield return new PlannedFile($"{root}/media/{medium.Media.FileName}", PlannedKind.ClipMedia, null, medium.Media.Channels, medium.Media.Length, ClipParts.SoundBytes(medium.Media, clips.Session.Name), MediaId: medium.Media.Id);
        }

        var names = ClipGroups.Suffixes(parts);
        for (var part = 0; part < parts.Count; part++)
        {
            var suffix = names[part];
            yield return new PlannedFile($"{root}/{root}{suffix}{choices.Format.Extension}", PlannedKind.ClipFile, Bytes: ClipParts.Bytes(parts[part], choices), Part: part);
        }
    }

    private static string ClickName(Session session, Preparation preparation, IReadOnlyDictionary<string, string> names)
    {
        var name = LegalName.From(preparation.Click.FileName ?? NamePattern.Fill(preparation.NamePattern, DeliveredNames.Fields(session, preparation, null, names.Count + 1, preparation.Click.TempoInName ? ClickTrack.NameOf(session) : "Click")));
        return LegalName.Unique(names.Values.Append(name))[^1];
    }

    private static IEnumerable<PlannedFile> PartFiles(Session session, Preparation preparation, IReadOnlyDictionary<string, string> names, string root)
    {
        if (preparation.Midi.Form != MidiForm.FilePerPart)
        {
            return [];
        }

        var tracks = session.Tracks.ToDictionary(t => t.Id);
        var parts = preparation.Tracks.Where(c => c.Treatment.HasNotes())
            .SelectMany(c => tracks[c.TrackId].Parts.Where(p => preparation.Midi.MutedParts || !p.Muted).Select(p => (c.TrackId, Part: p))).ToList();
        var files = LegalName.Unique(parts.Select(p => LegalName.From($"{names[p.TrackId]}_{p.Part.Name}")));
        return files.Select((name, i) => new PlannedFile(
            $"{root}/midi/{name}.mid", PlannedKind.Midi, parts[i].TrackId, Bytes: 400 + ((parts[i].Part.Notes.Count + parts[i].Part.Controls.Count) * 8L), PartId: parts[i].Part.Id));
    }

    /// <summary>How many channels the files of a track have together; its print's where it came as one.</summary>
    public static int ChannelsOf(Track track, TrackChoice choice, TrackRoles roles) => choice.Channels switch
    {
        DeliveredChannels.Mono => 1,
        DeliveredChannels.Stereo => 2,
        _ when choice.Treatment == Treatment.PrintMixed => 2,
        _ when choice.Treatment != Treatment.PrintDry && roles.PrintOf(track.Id) is { } print => Math.Max(1, print.Channels),
        _ when choice.Treatment == Treatment.NotesAndPrint => 2,
        _ => Math.Max(1, track.Channels),
    };

    /// <summary>What goes without the sound that it should have, as far as the session itself says.</summary>
    public SoundGaps Gaps => field ??= SoundGaps.Of(this, new Dictionary<string, MediaFault>());

    /// <summary>What goes without the sound that it should have.</summary>
    /// <param name="faults">What was found of media, by their identifiers.</param>
    public SoundGaps GapsWith(IReadOnlyDictionary<string, MediaFault> faults) => faults.Count == 0 ? Gaps : SoundGaps.Of(this, faults);

    /// <summary>Samples by which the limit cuts the longest tail off; 0 where it does not.</summary>
    public long CutTail { get; private init; }

    /// <summary>The tracks that the record of a delivery has: without those that are held back, and the buses and returns that only these feed. Other buses, returns and the master stay.</summary>
    internal IEnumerable<Track> RecordedTracks()
    {
        var held = Preparation.Tracks.Where(c => c.Treatment == Treatment.HoldBack).Select(c => c.TrackId).ToHashSet();
        var unneeded = NeededPaths.Unneeded(Session, Preparation);
        return Said.Tracks.Where(t => t.Kind.IsSource() ? !held.Contains(t.Id) : !unneeded.Contains(t.Id));
    }

    /// <summary>The session as it goes, whose sound is the package's own files: <see cref="DeliveredRecord"/>.</summary>
    /// <param name="loweredDb">What all sound files were lowered by; 0 or below.</param>
    public Session DeliveredSession(double loweredDb = 0) => DeliveredRecord.Of(this, loweredDb);

    /// <summary>The same as packages of writer 6 and before say it: what is printed is silenced there, and no file of the package is named.</summary>
    public Session EarlierRecord()
    {
        var printed = Files.Where(f => f.Kind == PlannedKind.FromZero).Select(f => f.TrackId).Concat(Preparation.Tracks.Where(c => c.Treatment == Treatment.StemOnly).Select(c => c.TrackId)).ToHashSet();
        var tracks = RecordedTracks().Select(t => printed.Contains(t.Id) ? t with { State = TrackState.Muted } : t).ToValueArray();
        var used = tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Select(c => c.Media).ToHashSet();
        return MediaNames.WithoutHashes(Session with { Picture = Picture?.Delivered ?? Session.Picture, Tracks = tracks, Media = Session.Media.Where(m => used.Contains(m.Id)).ToValueArray() });
    }

    private static long ClipCount(Session session) => session.Tracks.Sum(t => t.Lanes.Sum(l => (long)l.Clips.Count));
}
