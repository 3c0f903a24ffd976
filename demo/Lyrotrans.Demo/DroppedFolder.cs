using System.Numerics.Tensors;
using System.Security.Cryptography;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Files;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Roles;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Demo;

/// <summary>
/// The suite as a person drops it: an AAF and a corrected one, notes, prints of two instruments and of the hall alone, a mix of all of it, a click, and what lies
/// in such folders besides. The mix is what the corrected session sounds like with the prints in their places.
/// </summary>
internal sealed class DroppedFolder(LoadedSession suite, string folder)
{
    private static readonly string[] s_clips = ["cello", "piano", "timpani", "bell", "narrator"];
    private const string Cut = "Voice cut.wav";
    private static readonly string[] s_printed = ["celesta", "harp"];

    public void Write()
    {
        Directory.CreateDirectory(folder);
        WriteClips("Orrery_Suite.aaf", suite.Session with { Tracks = [.. suite.Session.Tracks.Select(t => t.Id == "timpani" ? Late(t) : t)] });
        WriteClips("Orrery_Suite_corrected.aaf", suite.Session);
        var notes = suite.Session with { Markers = [], Tracks = [.. suite.Session.Tracks.Where(t => s_printed.Contains(t.Id))] };
        File.WriteAllBytes(Path.Combine(folder, "Orrery_Suite.mid"), SmfWriter.Write(MidiExport.Make(notes, 0, new MidiChoices(), notes.Tracks)));
        WritePrints();
        WriteCut();
        WriteOthers();
        WriteMix();
    }

    // What the corrected one puts right.
    private static Track Late(Track track) => track with { Lanes = [.. track.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => c with { Start = c.Start + 4_800 })] })] };

    private void WriteClips(string name, Session session)
    {
        var loaded = suite with { Session = session };
        var preparation = SessionConvert.AllAsClips(session);
        preparation = preparation with
        {
            NamePattern = "{track}",
            Clips = preparation.Clips with { Media = ClipMediaForm.BesideWave, MonoOnly = false },
            Tracks = [.. preparation.Tracks.Select(c => s_clips.Contains(c.TrackId) ? c : c with { Treatment = Treatment.HoldBack })],
        };
        SessionConvert.Write(loaded, preparation, Path.Combine(folder, name), new PackageMaker(DateTimeOffset.UnixEpoch, SigningKey.New()), CancellationToken.None);
    }

    private void WritePrints()
    {
        var preparation = Preparation.Default(suite.Session, SessionFormats.Usual);
        preparation = preparation with
        {
            Click = new ClickChoices(Print: true),
            Tracks = [.. preparation.Tracks.Select(c => s_printed.Contains(c.TrackId) ? c with { Treatment = Treatment.NotesAndPrint } : c.TrackId == "long-hall" ? c with { Treatment = Treatment.PrintThrough } : s_clips.Contains(c.TrackId) ? c : c with { Treatment = Treatment.HoldBack })],
        };
        var plan = DeliveryPlan.Make(suite.Session, preparation, new Dictionary<string, MediaSound>());
        Write(plan, suite.Media, f => f.TrackId == "celesta", "Celesta print.wav", 0.7);
        Write(plan, suite.Media, f => f.TrackId == "harp", "Harp print.wav", 1.2);
        Write(plan, suite.Media, f => f.TrackId == "long-hall", "Long hall only.wav", 1);
        Write(plan, suite.Media, f => f.Kind == PlannedKind.Click, "click 92.wav", 1);
    }

    /// <summary>A voice from its first sound on: where it lies, only the mix knows.</summary>
    private void WriteCut()
    {
        var track = suite.Session.Tracks.First(t => t.Id == "scratch");
        var clip = track.Sounding!.Clips[0];
        using var render = new TrackRender(suite.Session, track, new MediaOpener(suite.Media, suite.Session.Rate));
        Write(Cut, track.Channels, clip.Length, (at, count, into) => render.Read(clip.Start + at, count, into), level: 2);
    }

    private void WriteMix()
    {
        var paths = new Dictionary<string, string>();
        var items = new List<IntakeItem>();
        foreach (var file in Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories).Where(f => Path.GetFileName(f) != "Orrery_Suite.aaf").Order(StringComparer.Ordinal))
        {
            var sha256 = Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(file)));
            var item = Examiner.Examine(new DiskFile(file), Path.GetRelativePath(folder, file).Replace('\\', '/'), sha256);
            items.Add(item.Name == Cut ? item with { Placement = new Placement(PlacementRule.Signal, suite.Session.Tracks.First(t => t.Id == "scratch").Sounding!.Clips[0].Start) } : item);
            paths[sha256] = file;
        }

        var state = new IntakeState().With(items);
        var joined = Joined(state);
        state = new IntakeEdits(state, joined.Session, joined).Roles(RoleFinder.Propose(joined.Session, state.Items).Where(p => p.IsSure).ToDictionary(p => p.Item, p => p.Role)).After!;
        var session = Joined(state).Session;
        var preparation = Preparation.Default(session, SessionFormats.Usual);
        var plan = DeliveryPlan.Make(session, preparation with { Mix = preparation.Mix with { Guide = true, Master = StemMaster.Before } }, new Dictionary<string, MediaSound>());
        Write(plan, new MappedMedia(session.Media.Where(m => m.Sha256 is not null).ToDictionary(m => m.Id, m => paths[m.Sha256!]), folder), f => f.Kind == PlannedKind.GuideMix, "Orrery mix v7.wav", 1);
        JoinedSession Joined(IntakeState s) => SessionJoin.Join(s, sha256 => File.OpenRead(paths[sha256]));
    }

    /// <summary>What other software leaves beside a session.</summary>
    private void WriteOthers()
    {
        var noise = new Random(17);
        foreach (var name in Directory.EnumerateFiles(folder, "*.wav", SearchOption.AllDirectories).Select(Path.GetFileNameWithoutExtension).Order(StringComparer.Ordinal).ToList())
        {
            Other($"Overviews/{name}.overview", 3_000);
        }

        Other("Presets/hall.preset", 900);
        Other("Orrery Suite.document", 60_000);
        File.WriteAllText(Path.Combine(folder, "read me.txt"), "The second export is the right one: the timpani were late in the first.\n");

        void Other(string name, int bytes)
        {
            var content = new byte[bytes];
            noise.NextBytes(content);
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(folder, name))!);
            File.WriteAllBytes(Path.Combine(folder, name), [0, .. content]);
        }
    }

    private void Write(DeliveryPlan plan, IMediaFiles media, Func<PlannedFile, bool> which, string name, double level)
    {
        using var notes = new NoteSoundFiles(new Audio.Instruments.SoundFontSounds(), folder);
        var file = plan.Files.First(f => which(f) && f.IsSound);
        using var print = new Printing(plan, new MediaOpener(media, plan.Session.Rate), notes).Open(file);
        Write(name, print.Channels, file.Frames, print.Read, level);
    }

    private void Write(string name, int channels, long frames, Action<long, int, double[][]> read, double level)
    {
        var layout = new PcmLayout(SampleEncoding.Integer24, false, channels, suite.Session.Rate, 0, frames);
        using var output = File.Create(Path.Combine(folder, name));
        output.Write(WaveWriter.Head(layout));
        var (samples, bytes, encoder) = (Printing.Planar(channels), new byte[Printing.Block * layout.BytesPerFrame], new PcmEncoder(layout.Encoding));
        for (long at = 0; at < frames; at += Printing.Block)
        {
            var count = (int)Math.Min(Printing.Block, frames - at);
            read(at, count, samples);
            foreach (var channel in samples)
            {
                TensorPrimitives.Multiply(channel.AsSpan(0, count), level, channel);
            }

            output.Write(bytes, 0, encoder.Encode(samples, layout.Channels, count, bytes));
        }

        output.Write(new byte[layout.DataBytes & 1]);
    }
}
