using System.Numerics.Tensors;
using Lyrotrans.Audio.Click;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Demo;

/// <summary>Writes the demo in the forms that the application takes in.</summary>
public static class DemoFiles
{
    /// <summary>Writes <c>session/</c> (open session document with its media) <c>stamped/</c> (time-stamped files and a MIDI file), <c>aaf-linked/</c>, <c>aaf-embedded/</c>, <c>omf/</c>, <c>otio/</c>, <c>bells/</c>, <c>loose/</c>, <c>late/</c>, <c>odd/</c>, <c>dropped/</c> and <c>incoming/</c>, and how <c>session/</c> and <c>bells/</c> may be prepared.</summary>
    public static Session Write(string folder, double scale = 1)
    {
        var home = Path.Combine(folder, "session");
        Directory.CreateDirectory(home);
        var session = OrrerySuite.Make(home, scale);
        File.WriteAllBytes(Path.Combine(home, "Orrery_Suite.session.json"), SessionDocumentWriter.Write(session));

        DemoPicture.Write(Path.Combine(home, "picture", "reel-one.mov"), scale);

        // One file got lost on the way.
        File.Delete(Path.Combine(home, "media", "choir.wav"));
        WriteStamped(session, home, Path.Combine(folder, "stamped"));
        WriteBells(Path.Combine(folder, "bells"), scale);
        WriteLoose(Path.Combine(folder, "bells"), Path.Combine(folder, "loose"));
        WriteLate(session, home, Path.Combine(folder, "late"));
        OddReel.Write(Path.Combine(folder, "odd"));
        WriteClips(folder, "aaf-linked/Orrery_Suite.aaf", p => p with { Media = ClipMediaForm.BesideWave, MonoOnly = false });
        WriteClips(folder, "aaf-embedded/Orrery_Suite.aaf", p => p with { Trimmed = true });
        WriteClips(folder, "omf/Orrery_Suite.omf", p => p with { Trimmed = true });
        WriteClips(folder, "otio/Orrery_Suite.otio", p => p with { Trimmed = true });
        WritePreparations(folder);
        new DroppedFolder(SessionLoader.Load(home, folder), Path.Combine(folder, "dropped")).Write();
        LanternWalk.Write(Path.Combine(folder, "incoming"));
        return session;
    }

    /// <summary>How two of the transfers are prepared: the suite with every kind of print, and the bells with a click and two bars to come in on.</summary>
    private static void WritePreparations(string folder)
    {
        void Write(string transfer, Func<Preparation, Preparation> change)
        {
            var session = SessionLoader.Load(Path.Combine(folder, transfer), folder).Session;
            File.WriteAllBytes(Path.Combine(folder, $"{transfer}.preparation.json"), PreparationDocument.Write(change(Preparation.Default(session, SessionFormats.Usual))));
        }

        Write("session", p => AllPrinted.Of(p, StemMaster.Through));
        Write("bells", p => p with { Click = new ClickChoices(Print: true, Midi: true, CountInBars: 2) });
    }

    /// <summary>The session's audio tracks as another studio would send them.</summary>
    private static void WriteClips(string folder, string file, Func<ClipChoices, ClipChoices> change)
    {
        var output = Path.Combine(folder, file);
        var loaded = SessionLoader.Load(Path.Combine(folder, "session"), folder);
        var preparation = SessionConvert.Prepared(loaded, output, null, string.Empty);
        SessionConvert.Write(loaded, preparation with { Clips = change(preparation.Clips) }, output, new PackageMaker(DateTimeOffset.UnixEpoch, SigningKey.New()), CancellationToken.None);
    }

    /// <summary>Each sounding track as one file from its first clip on, stamped there.</summary>
    private static void WriteStamped(Session session, string home, string folder)
    {
        Directory.CreateDirectory(folder);
        var opener = new MediaOpener(new FolderMedia(home, folder), session.Rate);
        foreach (var track in session.Tracks.Where(t => t.Kind == TrackKind.Audio && t.State == TrackState.Active && t.Channels <= 2))
        {
            var clips = track.Sounding!.Clips;
            var (start, end) = (clips[0].Start, clips.Max(c => c.End));
            var layout = new PcmLayout(SampleEncoding.Integer24, false, track.Channels, session.Rate, 0, end - start);
            using var render = new TrackRender(session, track, opener);
            using var output = File.Create(Path.Combine(folder, $"{Core.Naming.LegalName.From(track.Id)}.wav"));
            output.Write(WaveWriter.Head(layout, new BroadcastExtension(track.Name, "Quillfeather Hall", session.TimecodeScale.TimeReference(start, session.Rate), "2026-03-21", "10:00:00")));
            WriteBlocks(render.Read, layout, start, output);
        }

        File.WriteAllBytes(Path.Combine(folder, "Orrery.mid"), SmfWriter.Write(MidiExport.Make(session, 0, new MidiChoices(), session.Tracks.Where(t => t.Kind == TrackKind.Notes))));
    }

    /// <summary>A spot microphone that came late, from session start on: its header says 44.1 kHz, and it was recorded at the session's rate, as its iXML says.</summary>
    private static void WriteLate(Session session, string home, string folder)
    {
        Directory.CreateDirectory(folder);
        var opener = new MediaOpener(new FolderMedia(home, folder), session.Rate);
        var cello = session.Tracks.First(t => t.Id == "cello");
        var layout = new PcmLayout(SampleEncoding.Integer24, false, cello.Channels, SampleRate.Hz44100, 0, cello.Sounding!.Clips.Max(c => c.End));
        using var render = new TrackRender(session, cello, opener);
        using var output = File.Create(Path.Combine(folder, "cello-spot.wav"));
        output.Write(WaveWriter.Head(layout, null, [], "<BWFXML><SPEED><FILE_SAMPLE_RATE>48000</FILE_SAMPLE_RATE></SPEED></BWFXML>"u8.ToArray().ToValueArray()));
        WriteBlocks(render.Read, layout, 0, output);
    }

    private static void WriteBlocks(Action<long, int, double[][]> read, PcmLayout layout, long start, Stream output)
    {
        const int block = 65_536;
        var samples = Enumerable.Range(0, layout.Channels).Select(_ => new double[block]).ToArray();
        var bytes = new byte[block * layout.BytesPerFrame];
        var encoder = new PcmEncoder(layout.Encoding);
        for (long at = 0; at < layout.Frames; at += block)
        {
            var count = (int)Math.Min(block, layout.Frames - at);
            read(start + at, count, samples);
            output.Write(bytes, 0, encoder.Encode(samples, layout.Channels, count, bytes));
        }

        output.Write(new byte[layout.DataBytes & 1]);
    }

    /// <summary>"Three bells, one lantern": one instrument for a session player.</summary>
    private static void WriteBells(string folder, double scale)
    {
        Directory.CreateDirectory(folder);
        var media = new DemoMedia(folder, scale);
        var bells = media.Add("three-bells.wav", 30, 301, (s, t) => [s.Struck(t, 440, [1, 2.76, 5.4], 3, 0.5, 2.6)]);
        var clips = new ClipMaker("bells", scale);
        clips.Add(bells, 1, 12, 0.5, 0, 96, 4800, FadeShape.Exponential);
        clips.Add(bells, 15, 12, 14, -1.5, 96, 9600, FadeShape.Exponential);
        var session = new Session
        {
            Name = "Three bells, one lantern",
            Media = [.. media.All],
            Tracks = [new Track { Id = "bells", Name = "Three bells", Lanes = [clips.Lane("main")] }],
            Tempo = Core.Time.TempoMap.Constant(76),
            Markers = [new Marker("m1", "Lantern lit", 48_000)],
        };
        File.WriteAllBytes(Path.Combine(folder, "Three_bells.session.json"), SessionDocumentWriter.Write(session));
    }

    /// <summary>The bells by six microphones as one recorder writes them: each further away, with names for the channels.</summary>
    private static void WriteMicrophones(string path, Session session, IMediaFiles media)
    {
        string[] names = ["Bells near", "Bells far", "Lantern", "Hall left", "Hall right", "Door"];
        var layout = new PcmLayout(SampleEncoding.Integer24, false, names.Length, session.Rate, 0, session.EndSample);
        using var render = new TrackRender(session, session.Tracks[0], new MediaOpener(media, session.Rate));
        using var output = File.Create(path);
        output.Write(WaveWriter.Head(layout, ixml: new WaveTexts(session.Name, "Six microphones", [.. names], session.FrameRate, null).Ixml(layout)));
        WriteBlocks(
            (at, count, into) =>
            {
                for (var c = 0; c < names.Length; c++)
                {
                    // A metre and a half further for each, in whole samples.
                    var channel = into[c];
                    render.Read(at - (210 * c), count, [channel]);
                    TensorPrimitives.Multiply(channel.AsSpan(0, count), Math.Pow(0.8, c), channel);
                }
            },
            layout, 0, output);
    }

    /// <summary>The same instrument as files from zero with a click beside them: nothing says a tempo, and nothing says where clips begin and end.</summary>
    private static void WriteLoose(string home, string folder)
    {
        Directory.CreateDirectory(folder);
        var loaded = SessionLoader.Load(Path.Combine(home, "Three_bells.session.json"), folder);
        var (session, range) = (loaded.Session, new SampleRange(0, loaded.Session.EndSample));
        var layout = new PcmLayout(SampleEncoding.Integer24, false, 1, session.Rate, 0, range.End);
        using (var render = new TrackRender(session, session.Tracks[0], new MediaOpener(loaded.Media, session.Rate)))
        using (var output = File.Create(Path.Combine(folder, "Three bells.wav")))
        {
            output.Write(WaveWriter.Head(layout));
            WriteBlocks(render.Read, layout, 0, output);
        }

        WriteMicrophones(Path.Combine(folder, "Six microphones.wav"), session, loaded.Media);
        var click = new ClickRender(ClickTrack.Beats(session, new ClickChoices(), range), range, -6, session.Rate);
        using var clicks = File.Create(Path.Combine(folder, "click.wav"));
        clicks.Write(WaveWriter.Head(layout));
        WriteBlocks((at, count, into) => click.Read(at, count, into[0]), layout, 0, clicks);
    }
}
