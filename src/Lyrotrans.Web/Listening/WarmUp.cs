using Lyrotrans.Audio.Instruments;
using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Web.Listening;

/// <summary>Plays a made-up session to nobody once the server is up, so that the first press is heard as soon as every other.</summary>
public sealed class WarmUp(ILogger<WarmUp> log) : BackgroundService
{
    private const int Seconds = 6;

    protected override Task ExecuteAsync(CancellationToken stoppingToken) => Task.Run(() => Play(stoppingToken), stoppingToken);

    /// <summary>One track of sound through every effect, one of notes, a return and a master.</summary>
    private static Session MadeUp()
    {
        var inserts = EffectCatalogue.All.Select(e => new Insert(e.Name)).ToValueArray();
        var bar = new NotePart { Id = "bar", Name = "bar", LengthQuarters = 16, TicksPerQuarter = 480, Notes = [.. Enumerable.Range(0, 16).Select(i => new Note(i * 480, 240, 0, 60 + i, 90))] };
        return new Session
        {
            Name = "warm-up",
            Tracks =
            [
                new Track { Id = "sound", Name = "sound", Inserts = inserts, Sends = [new Send("return", -6)] },
                new Track { Id = "notes", Name = "notes", Kind = TrackKind.Notes, Channels = 0, Parts = [bar] },
                new Track { Id = "return", Name = "return", Kind = TrackKind.Return, Channels = 2, Inserts = inserts },
                new Track { Id = "master", Name = "master", Kind = TrackKind.Master, Channels = 2, Inserts = inserts },
            ],
        };
    }

    private void Play(CancellationToken stop)
    {
        try
        {
            var session = MadeUp();
            var sounding = session.Tracks.Select(t => t.Id).ToHashSet();
            using var render = new MixRender(session, session.Tracks[^1], MixPoint.AfterPan, sounding, new MixSounds(new NoMedia(), new SoundFontSounds(Seconds)), 0, threads: Environment.ProcessorCount);
            ListeningStream.Write(Stream.Null, session.Rate, render.Channels, Seconds * session.Rate.HeaderHz, render.Read, stop);
        }
        catch (OperationCanceledException)
        {
            // The server stops before it is warm.
        }
        catch (InvalidOperationException problem)
        {
            log.LogWarning(problem, "Listening is not ready");
        }
    }

    private sealed class NoMedia : IMediaOpener
    {
        public ISampleSource? Open(Media media) => null;
    }
}
