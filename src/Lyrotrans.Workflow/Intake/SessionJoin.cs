using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Joining;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Pairing;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Relinking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Workflow.Incoming;

namespace Lyrotrans.Workflow.Intake;

/// <summary>
/// Puts everything that was brought in together as one session. A document that says a session leads; sound files that it names are
/// its media, all others become tracks of their own. Every source with a map counts; one leads, and its tempo, meters, keys and
/// bar 1 hold for all. Markers of all sources come together, unless one was chosen.
/// </summary>
public sealed class SessionJoin
{
    // Later than any session begins.
    private static readonly Rational FarStart = 1_000_000;
    private readonly IntakeState _state;
    private readonly Func<string, Stream> _open;
    private readonly Dictionary<string, PlacedItem> _placed = [];
    private readonly FindingList _findings = [];
    private readonly HashSet<string> _used = [];
    private readonly List<string> _others = [];

    // By item, the medium that it was bound to, as the document says it.
    private readonly Dictionary<string, Media> _described = [];
    private readonly MusicSources _music;
    private IReadOnlyDictionary<string, LinkResult> _links = new Dictionary<string, LinkResult>();
    private IReadOnlyList<string> _compositions = [];

    // Where another than the top one is taken: its sound inside the document lies in a folder of its own.
    private string? _otherComposition;

    private readonly PackageItems _packages;
    private readonly Dictionary<string, string> _came = [];
    private readonly HashSet<string> _told = [];

    private bool _knowsChannels = true;

    private SessionJoin(IntakeState state, Func<string, Stream> open)
    {
        _state = state;
        _music = new MusicSources(state);
        _packages = new PackageItems(state);
        _open = open;
    }

    /// <param name="state">What was brought in.</param>
    /// <param name="open">Opens an item's bytes by their SHA-256.</param>
    public static JoinedSession Join(IntakeState state, Func<string, Stream> open) => new SessionJoin(state, open).Join();

    private JoinedSession Join()
    {
        var good = _state.Items.Where(i => i.Error is null).Select(i => i.AsDeclared()).ToList();
        var holders = good.Where(i => i.IsDocument).ToList();
        foreach (var (item, why) in good.Select(i => (Item: i, Why: i.Kind == ContentKind.Record ? "to be read, and no source" : i.IsSound ? null : _packages.Beside(i))).Where(i => i.Why is not null).ToList())
        {
            _placed[item.Id] = new PlacedItem(null, why!);
            _told.Add(item.Id);
            good.Remove(item);
        }

        var documents = Ordered(good.Where(i => i.IsDocument));
        var sounds = good.Where(i => i.IsSound).ToList();
        var midis = good.Where(i => i.Kind == ContentKind.Midi).ToList();
        var session = documents.Count > 0 ? FromDocument(documents[0], sounds) : FromFiles(sounds);
        foreach (var other in documents.Skip(1).Where(d => _state.Beside.Contains(d.Id)))
        {
            session = Beside(session, other, sounds);
        }

        foreach (var extra in documents.Skip(1).Where(d => !_state.Beside.Contains(d.Id)))
        {
            var isOther = SideBySide.IsOther(session, Read(extra).Session);
            _others.AddRange(isOther ? [extra.Id] : []);
            _findings.Add(IntakeCodes.SecondSession, extra.Name, $"{extra.Name} is a second description of a session{(isOther ? " with other tracks" : string.Empty)}; {documents[0].Name} leads, and the second was left out.");
            _placed[extra.Id] = new PlacedItem(null, $"left out: {documents[0].Name} leads");
        }

        var own = documents.FirstOrDefault()?.Id;
        var music = midis.Select(m => ReadMidi(m, session)).ToList();
        session = _music.Mapped(session, own, _findings);
        session = AddNotes(session, music);
        var doubtful = _links.Values.SelectMany(l => l.Doubtful).Select(e => e.Candidate).ToHashSet();
        foreach (var sound in sounds.Where(s => doubtful.Contains(s.Id) && !_used.Contains(s.Id)))
        {
            _placed[sound.Id] = new PlacedItem(null, "it may be a missing medium: choose above");
        }

        // What lies inside a document is its media and never a track of its own, also where another composition was taken.
        var inside = sounds.Where(s => !_used.Contains(s.Id) && holders.Exists(d => s.Name.StartsWith(EmbeddedMedia.FolderOf(d.Name), StringComparison.Ordinal))).Select(s => s.Id).ToHashSet();
        foreach (var id in inside)
        {
            _placed[id] = new PlacedItem(null, "inside the document; this composition does not use it");
        }

        var unplayed = sounds.Where(s => !_used.Contains(s.Id)).Select(s => (s.Id, Why: _packages.Unplayed(s))).Where(s => s.Why is not null).ToDictionary(s => s.Id, s => s.Why!);
        foreach (var (id, why) in unplayed)
        {
            _placed[id] = new PlacedItem(null, why);
        }

        var again = SameSounds(sounds).Where(s => !doubtful.Contains(s.Item.Id) && !inside.Contains(s.Item.Id) && !unplayed.ContainsKey(s.Item.Id)).ToList();
        foreach (var (item, medium) in again)
        {
            _placed[item.Id] = new PlacedItem(null, $"the same sound as {medium}, which is a medium: mark it as a track if it is meant to sound besides");
        }

        var ofPicture = sounds.Where(s => s.Role is null && !_used.Contains(s.Id) && s.TakenFrom is { } from && session.Picture is { } named && PictureJoin.Names(named, from)).Select(s => s.Id).ToList();
        foreach (var id in ofPicture)
        {
            _placed[id] = new PlacedItem(null, "the reference picture's own sound: mark it as a track if it is meant to sound");
        }

        var left = again.Select(s => s.Item.Id).Concat(inside).Concat(unplayed.Keys).Concat(ofPicture).Concat(doubtful).ToHashSet();
        session = AddSounds(session, sounds.Where(s => !_used.Contains(s.Id) && !left.Contains(s.Id)).ToList());
        session = AddMarkers(session, own, good.Where(i => i.Kind == ContentKind.MarkerList).ToList());
        session = CutJoin.Apply(RoleJoin.Apply(WithChannels(session), sounds, _findings), _state.Cuts, _findings);
        session = AddPicture(session, good.Where(i => i.Kind == ContentKind.Picture).ToList());
        session = Edited(session);
        session = NoteJoin.Apply(session with { PanLaw = _state.PanLaw ?? session.PanLaw }, _state.Notes, _findings);
        return new JoinedSession(session, _placed, Missing(session), [.. _findings], _music.Maps, _music.Leader?.Item, _music.MarkerSources, _compositions, RateDoubts(session, sounds),
            _music.Maps.Count > 0 || _state.MapEdits.Count > 0 || (documents.Count > 0 && SessionFormats.Get(documents[0].Format!).IsWhole))
        {
            Leader = own,
            Came = _came,
            Told = _told,
            Others = _others,
        };
    }

    // Each in its turn: a map that moved the markers moved those that were set before it.
    private Session Edited(Session session)
    {
        for (var maps = 0; maps <= _state.MapEdits.Count; maps++)
        {
            var now = _state.MarkerEdits.Where(e => Math.Min(e.AfterMaps, _state.MapEdits.Count) == maps);
            session = now.Aggregate(session, (before, edit) => edit.ApplyTo(before));
            session = maps < _state.MapEdits.Count ? _state.MapEdits[maps].ApplyTo(session) : session;
        }

        return session;
    }

    private List<RateDoubt> RateDoubts(Session session, List<IntakeItem> sounds)
    {
        var rates = sounds.Where(s => s.Sound!.Frames > 0).Select(s => new SoundRate(
            s.Id, s.Name, s.Sound!.SampleRate, s.Sound.Frames, s.Sound.RateWords, _described.GetValueOrDefault(s.Id)?.Id ?? s.Id, _described.GetValueOrDefault(s.Id)));
        var decided = sounds.Where(s => s.DeclaredRate is not null).Select(s => s.Id).ToHashSet();
        return [.. new RateFinder([.. rates], session).Doubts().Where(d => !decided.Contains(d.Sound.Id))];
    }

    private Session FromDocument(IntakeItem document, List<IntakeItem> sounds)
    {
        using var stream = _open(document.Sha256);
        var session = Taken(SessionFormats.Get(document.Format!).Open(stream, document.Name));
        _music.Offer(new MapSource(document.Id, document.Name, MusicMap.Of(session), session.Markers));
        _placed[document.Id] = new PlacedItem(0, $"it is the session; sample 0 is {session.Start}");
        foreach (var track in session.Tracks)
        {
            Came(track.Id, document);
        }

        session = session with
        {
            Media = Linked(session, document, sounds),
            Provenance = session.Provenance.Append(new Provenance(document.Name, "the whole session")).ToValueArray(),
        };
        return _knowsChannels ? session : EditImport.Widened(session);
    }

    // Of those that lie beside each other the one that begins first leads, since nothing lies before session start; a start of 0 says nothing.
    private List<IntakeItem> Ordered(IEnumerable<IntakeItem> documents)
    {
        var ordered = documents.OrderBy(i => SessionFormats.Get(i.Format!).IsWhole ? 0 : 1).ToList();
        if (ordered.Count < 2 || _state.Beside.Count == 0)
        {
            return ordered;
        }

        var together = ordered.Where((d, i) => i == 0 || _state.Beside.Contains(d.Id)).OrderBy(d => d.Placement.Rule == PlacementRule.TimeStamp && StartOf(d) is { Sign: > 0 } start ? start : FarStart).ToList();
        return [.. together, .. ordered.Except(together)];
    }

    private ReadSession Read(IntakeItem document)
    {
        using var stream = _open(document.Sha256);
        return SessionFormats.Get(document.Format!).Open(stream, document.Name).ReadSession();
    }

    private Rational StartOf(IntakeItem document)
    {
        var start = Read(document).Session.Start;
        return start.Frames / start.Rate.PerSecond;
    }

    /// <summary>Lays another session beside this one: by its start, or as it was placed.</summary>
    private Session Beside(Session session, IntakeItem document, List<IntakeItem> sounds)
    {
        var read = Read(document);
        var links = _links;
        var other = read.Session with { Media = Linked(read.Session, document, sounds) };
        _links = links.Concat(_links.Where(l => !links.ContainsKey(l.Key))).ToDictionary();
        other = read.KnowsChannels ? other : EditImport.Widened(other);
        var later = session.Rate.SamplesIn((other.Start.Frames / other.FrameRate.PerSecond) - (session.Start.Frames / session.FrameRate.PerSecond)).RoundToEven();
        var (at, reason) = document.Placement.Rule switch
        {
            PlacementRule.Offset => (document.Placement.Sample, "offset typed in"),
            PlacementRule.Bar1 => (session.Bar1Sample, "at bar 1"),
            PlacementRule.TimeStamp when other.Start.Frames > 0 && later >= 0 => (later, $"by its start {other.Start}"),
            _ => (0L, "at session start"),
        };
        _placed[document.Id] = new PlacedItem(at, $"beside it, {reason}");
        foreach (var gives in SideBySide.Gives(session, other))
        {
            _findings.Add(IntakeCodes.BesideGives, document.Name, $"{Path.GetFileName(document.Name)} lies beside: {gives}.");
        }

        var moved = SessionMove.Of(other, session.Rate, at);
        _music.Offer(new MapSource(document.Id, document.Name, MusicMap.Of(moved), moved.Markers));
        var before = session.Tracks.Select(t => t.Id).ToHashSet();
        var together = SideBySide.Join(session, other, at, $"{document.Id}-");
        foreach (var track in together.Tracks.Where(t => !before.Contains(t.Id)))
        {
            Came(track.Id, document);
        }

        return together with { Provenance = session.Provenance.Append(new Provenance(document.Name, "tracks beside")).ToValueArray() };
    }

    private void Came(string track, IntakeItem document)
    {
        if (_packages.PackageOf(document) is { } package)
        {
            _came[track] = package.Manifest;
        }
    }

    private Session Taken(ISessionDocument document)
    {
        var names = document.Compositions;
        var taken = _state.Composition is { } chosen && names.Contains(chosen) ? chosen : names[0];
        _otherComposition = taken == names[0] ? null : taken;
        _compositions = [taken, .. names.Where(n => n != taken)];
        var read = document.ReadSession(taken);
        _knowsChannels = read.KnowsChannels;
        return read.Session;
    }

    /// <summary>Binds a document's media to sound files: what lies inside it first, then by all that is known of them.</summary>
    private ValueArray<Media> Linked(Session session, IntakeItem document, List<IntakeItem> sounds)
    {
        var folder = document.Name.Contains('/', StringComparison.Ordinal) ? document.Name[..document.Name.LastIndexOf('/')] + "/" : string.Empty;
        var byName = sounds.DistinctBy(s => s.Name).ToDictionary(s => s.Name);
        var byId = sounds.DistinctBy(s => s.Id).ToDictionary(s => s.Id);
        var package = _packages.PackageOf(document);
        var all = _state.Items.DistinctBy(i => i.Name).ToDictionary(i => i.Name);
        var inside = session.Media.ToDictionary(m => m.Id, m => byName.GetValueOrDefault(EmbeddedMedia.NameOf(document.Name, _otherComposition, m.FileName)) ?? Fitting(m, _packages.Find(_packages.Called(m.Delivery) ?? package, m.FileName, byName, all)));
        var needed = NeededMedia.Of(session);
        var names = sounds.Select(s => Path.GetFileName(s.Name)).ToHashSet(SameName.Comparer);

        // Nothing sounds by what was not sent: only a file of its name is it, and none that is merely as long, such as whatever was made here from the same zero.
        var wanted = session.Media.Where(m => inside[m.Id] is null && (m.Place != MediaPlace.Unsent || needed.Contains(m.Id) || names.Contains(m.ShortName) || _state.Links.ContainsKey(m.Id))).ToList();
        var candidates = sounds.Where(s => s.Sound!.Frames > 0 && !s.HasRole && !_packages.IsAltered(s) && !inside.ContainsValue(s)).Select(Candidate).ToList();
        _links = Relink.Match(wanted, MediaNeeds.Of(session), candidates, _state.Links, folder);
        var said = session.Media.ToDictionary(m => m.Id);
        _links = _links.ToDictionary(l => l.Key, l => l.Value.Bound is null && l.Value.Doubtful.Count == 0 ? l.Value with { Reason = Whereabouts(said[l.Key], package) ?? l.Value.Reason } : l.Value);
        return session.Media.Select(m =>
        {
            var found = inside[m.Id] ?? (_links.GetValueOrDefault(m.Id)?.Bound is { } bound ? byId[bound] : null);
            return found is null ? m with { Place = m.Place == MediaPlace.Unsent && !needed.Contains(m.Id) ? MediaPlace.Unsent : MediaPlace.Missing }
                : Bound(m, found, inside[m.Id] is null ? _links[m.Id].Reason : package is null ? "inside the document" : "by its place in the package");
        }).ToValueArray();
    }

    // Clips point at channels that were said; a file with fewer, or without sound, is another.
    private static IntakeItem? Fitting(Media media, IntakeItem? found) => found is { Sound: { Frames: > 0 } facts } && facts.Channels >= media.Channels ? found : null;

    private string? Whereabouts(Media media, IncomingPackage? package) =>
        media.Delivery is { } delivery && _packages.Called(delivery) is null ? $"it lies in another package, whose manifest has the SHA-256 {delivery}: bring that in too"
        : package is null ? null
        : package.FileOf(package.Folder + media.FileName) is null ? null
        : package.Follows is { } follows ? $"it lies in the package that this one follows, whose manifest has the SHA-256 {follows}: bring that in too"
        : "it should lie in the package and does not, or not as it was sent: ask for it again";

    /// <summary>Sound files with the very samples of one that is a medium of the document, on which nobody has decided; not one more track.</summary>
    private IEnumerable<(IntakeItem Item, string Medium)> SameSounds(List<IntakeItem> sounds)
    {
        var media = sounds.Where(s => _used.Contains(s.Id) && s.SampleSum is not null).DistinctBy(s => s.SampleSum).ToDictionary(s => s.SampleSum!, s => Path.GetFileName(s.Name));
        return sounds.Where(s => !_used.Contains(s.Id) && s.Role is null && s.SampleSum is { } sum && media.ContainsKey(sum)).Select(s => (s, media[s.SampleSum!]));
    }

    private SoundCandidate Candidate(IntakeItem sound) => new(
        sound.Id, sound.TakenFrom ?? sound.Name, sound.Sha256, sound.Sound!.SampleRate, sound.Sound.Channels, sound.Sound.Frames, sound.Sound.TimeReference, sound.Sound.Umid,
        bytes => sound.TakenFrom is null ? FolderSounds.StartHash(_open(sound.Sha256), bytes) : null);

    private Media Bound(Media media, IntakeItem found, string reason)
    {
        _used.Add(found.Id);
        _described[found.Id] = media;
        _placed[found.Id] = new PlacedItem(null, $"media, {reason}");
        var facts = found.Sound!;
        return media with
        {
            Place = MediaPlace.Beside,
            Delivery = _packages.PackageOf(found)?.Manifest ?? (_packages.Called(media.Delivery) is not null ? media.Delivery : null),
            Sha256 = found.Sha256,
            Rate = facts.SampleRate,
            RateDeclared = found.DeclaredRate is not null,
            Channels = facts.Channels,
            Length = facts.Frames,
            Encoding = facts.Encoding,
            TimeReference = facts.TimeReference ?? media.TimeReference,
        };
    }

    /// <summary>Tracks joined and split as the engineer decided; what cannot be done any more is said.</summary>
    private Session WithChannels(Session session)
    {
        foreach (var edit in _state.ChannelEdits)
        {
            var after = edit.Name is { } name
                ? PairJoin.Join(session, edit.Tracks, name, set => Made(session, edit, set))
                : edit.Tracks.Count != 1 ? null
                : edit.Into is { } groups ? PairJoin.Split(session, edit.Tracks[0], groups) : PairJoin.Split(session, edit.Tracks[0]);
            if (after is null)
            {
                _findings.Add(IntakeCodes.EditLost, edit.Name ?? edit.Tracks[0], $"{edit.Name ?? edit.Tracks[0]} cannot be {(edit.Name is null ? "split" : "joined")} any more as was decided: its tracks or media changed.");
            }

            session = after ?? session;
        }

        return session;
    }

    private static Media? Made(Session session, ChannelEdit edit, ValueArray<(string Media, int Channel)> set)
    {
        var medium = edit.Media.FirstOrDefault(m => m.From.Select(f => (f.Media, f.Channel)).SequenceEqual(set));
        var first = session.Media.First(m => m.Id == set[0].Media);
        return medium is null ? null : first with { Id = $"joined-{IntakeItem.IdOf(medium.Sha256, medium.Name)}", FileName = medium.Name, Sha256 = medium.Sha256, Channels = set.Count, Length = set.Max(s => session.Media.First(m => m.Id == s.Media).Length), Identifiers = [], Place = MediaPlace.Beside };
    }

    private Session FromFiles(List<IntakeItem> sounds)
    {
        var rate = sounds.GroupBy(s => s.Sound!.SampleRate).OrderByDescending(g => g.Count()).Select(g => g.Key).FirstOrDefault(SampleRate.Hz48000);
        var frames = FrameRate.TryFromName(_state.FrameRate, out var known) ? known : FrameRate.Fps25;
        var depth = sounds.Select(s => s.Sound!.Encoding).Where(e => !e.IsFloat()).DefaultIfEmpty(SampleEncoding.Integer24).Max();
        return new Session
        {
            Name = _state.SessionName,
            Rate = rate,
            Depth = sounds.Count > 0 && sounds.All(s => s.Sound!.Encoding.IsFloat()) ? SampleEncoding.Float32 : depth < SampleEncoding.Integer16 ? SampleEncoding.Integer16 : depth,
            Start = Start(sounds, frames),
        };
    }

    private Timecode Start(List<IntakeItem> sounds, FrameRate frames)
    {
        if (Timecode.TryParse(_state.Start, frames, out var typed))
        {
            return typed;
        }

        var stamps = sounds.Where(s => s.Sound!.TimeReference is not null && s.Placement.Rule == PlacementRule.TimeStamp)
            .Select(s => Seconds(s)).ToList();

        // The frame at or before the earliest stamp, so that nothing lies before session start.
        return new Timecode(stamps.Count == 0 ? 0 : (long)(stamps.Min() * frames.PerSecond).Floor(), frames);
    }

    private static Rational Seconds(IntakeItem sound) => sound.Sound!.SampleRate.SecondsOf(sound.Sound.TimeReference!.Value);

    private (IntakeItem Item, Session Music) ReadMidi(IntakeItem item, Session session)
    {
        using var stream = _open(item.Sha256);
        var file = SmfReader.Read(stream, item.Name);
        var start = MidiImport.StartSeconds(SmfContents.Of(file)) is { } seconds
            ? session.Rate.SamplesIn(seconds - (session.Start.Frames / session.FrameRate.PerSecond)).RoundToEven()
            : (long?)null;
        var (at, reason) = item.Placement.Rule switch
        {
            PlacementRule.Offset => (item.Placement.Sample, "offset typed in"),
            PlacementRule.Bar1 => (session.Bar1Sample, "at bar 1"),
            PlacementRule.TimeStamp when start is { } said => (said, "by its start timecode"),
            _ => (0L, "its tick 0 at session start"),
        };
        _placed[item.Id] = new PlacedItem(at, reason);
        var music = MidiImport.Read(file, Path.GetFileNameWithoutExtension(item.Name), session.Rate, at);
        _music.Offer(new MapSource(item.Id, item.Name, MusicMap.Of(music), music.Markers, start));
        return (item, music);
    }

    private static Session AddNotes(Session session, List<(IntakeItem Item, Session Music)> music)
    {
        foreach (var (item, notes) in music.Where(m => m.Music.Tracks.Count > 0))
        {
            session = session with
            {
                Tracks = session.Tracks.Concat(notes.Tracks.Select(t => Renamed(t, item.Id))).ToValueArray(),
                Provenance = session.Provenance.Append(new Provenance(item.Name, "notes")).ToValueArray(),
            };
        }

        return session;
    }

    private Session AddMarkers(Session session, string? own, List<IntakeItem> lists)
    {
        foreach (var item in lists)
        {
            using var stream = _open(item.Sha256);
            var markers = MarkerJoin.FromList(session, MarkerListReader.Read(stream, item.Name), item.Name, _findings).ToList();
            _music.OfferMarkers(item.Id, item.Name, markers);
            _placed[item.Id] = new PlacedItem(null, Phrases.Count(markers.Count, "marker"));
        }

        return _music.Marked(session, own);
    }

    private static Track Renamed(Track track, string item) => track with
    {
        Id = $"{item}-{track.Id}",
        Parts = track.Parts.Select(p => p with { Id = $"{item}-{p.Id}" }).ToValueArray(),
    };

    private Session AddSounds(Session session, List<IntakeItem> sounds)
    {
        var media = session.Media.ToList();
        var tracks = session.Tracks.ToList();
        foreach (var sound in sounds.OrderBy(s => s.Name, StringComparer.OrdinalIgnoreCase))
        {
            var facts = sound.Sound!;
            var rate = facts.SampleRate;
            if (facts.Frames == 0)
            {
                _placed[sound.Id] = new PlacedItem(null, "it holds no sound");
                continue;
            }

            var (at, reason) = Place(sound, rate, session);
            _placed[sound.Id] = new PlacedItem(at, reason);
            _music.OfferMarkers(sound.Id, sound.Name, [.. MarkersOf(sound, rate, at, session)]);
            var name = Path.GetFileNameWithoutExtension(sound.Name);
            media.Add(new Media
            {
                Id = sound.Id,
                FileName = sound.Name,
                Rate = rate,
                RateDeclared = sound.DeclaredRate is not null,
                Encoding = facts.Encoding,
                Channels = facts.Channels,
                Length = facts.Frames,
                TimeReference = facts.TimeReference,
                Sha256 = sound.Sha256,
            });
            tracks.Add(new Track
            {
                Id = RoleJoin.TrackOf(sound),
                Name = name,
                Channels = facts.Channels,
                Lanes = [new Lane("file", [new Clip
                {
                    Id = $"{sound.Id}-clip",
                    Name = name,
                    Media = sound.Id,
                    ChannelMap = Enumerable.Range(0, facts.Channels).ToValueArray(),
                    Start = at,
                    Length = Math.Max(1, rate.Convert(facts.Frames, session.Rate)),
                    Source = sound.Name,
                }])],
            });
        }

        var taken = sounds.Count > 0 ? session.Provenance.Append(new Provenance(sounds.Count == 1 ? sounds[0].Name : $"{sounds.Count} sound files", sounds.Count == 1 ? "one track" : "one track each")) : session.Provenance;
        return session with { Media = media.ToValueArray(), Tracks = tracks.ToValueArray(), Provenance = taken.ToValueArray() };
    }

    // Both ends of a section go to the nearest sample.
    private static IEnumerable<Marker> MarkersOf(IntakeItem sound, SampleRate rate, long at, Session session) => (sound.Sound!.Marks ?? []).Select((m, i) =>
    {
        var (start, end) = (at + rate.Convert(m.Sample, session.Rate), at + rate.Convert(m.Sample + m.Length, session.Rate));
        return new Marker(FormattableString.Invariant($"{sound.Id}-mark-{i + 1}"), m.Text, start, end - start);
    });

    private static (long At, string Reason) Place(IntakeItem sound, SampleRate rate, Session session) => sound.Placement.Rule switch
    {
        PlacementRule.Offset => (sound.Placement.Sample, "offset typed in"),
        PlacementRule.TimeStamp when sound.Sound!.TimeReference is { } stamp =>
            (session.TimecodeScale.SampleOfTimeReference(stamp, rate), "by its time stamp"),
        PlacementRule.TimeStamp => (0, "at session start: it has no time stamp"),
        PlacementRule.Bar1 => (session.Bar1Sample, "at bar 1"),
        PlacementRule.Signal => (sound.Placement.Sample, "by its sound"),
        _ => (0, "at session start"),
    };

    private Session AddPicture(Session session, List<IntakeItem> pictures)
    {
        foreach (var container in _state.Items.Where(i => i.Kind == ContentKind.Container && i.Error is null))
        {
            _placed[container.Id] = new PlacedItem(null, "its sound is a source of its own");
        }

        return PictureJoin.Apply(session, pictures, [.. _state.Items.Where(i => i.IsSound)], _used, _placed, _findings);
    }

    private List<MissingMedia> Missing(Session session)
    {
        var result = new List<MissingMedia>();
        foreach (var media in session.Media.Where(m => m.Place == MediaPlace.Missing))
        {
            var users = session.Tracks.Select(t => (t.Name, Count: t.Lanes.Sum(l => l.Clips.Count(c => c.Media == media.Id)))).Where(u => u.Count > 0).ToList();
            var link = _links.GetValueOrDefault(media.Id);
            result.Add(new MissingMedia(
                media.Id,
                media.FileName,
                $"{media.Rate}, {media.Encoding.Words()}, {Phrases.Channels(media.Channels)}, {Digits.Grouped(media.Length)} samples",
                users.Sum(u => u.Count), string.Join(", ", users.Select(u => u.Name)), link?.Reason ?? "missing", link?.Doubtful ?? []));
        }

        return result;
    }
}
