using System.Collections.Concurrent;
using System.Runtime.InteropServices;
using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Plays every notes track once, into a scratch file that all prints and mixes then read; deleted with this.</summary>
public sealed class NoteSoundFiles(INoteSounds instruments, string scratch) : INoteSounds, IDisposable
{
    private const int Block = 16_384;
    private const int Channels = 2;
    private readonly ConcurrentDictionary<string, Lazy<(string Path, PcmLayout Layout, long Start)>> _played = new();

    public ITrackSound Play(Session session, Track track)
    {
        var (path, layout, start) = _played.GetOrAdd(track.Id, _ => new Lazy<(string, PcmLayout, long)>(() => Write(session, track))).Value;
        return new PlayedTrack(new PcmSource(File.OpenRead(path), layout), start, track.Channels);
    }

    public void Dispose()
    {
        foreach (var played in _played.Values.Where(p => p.IsValueCreated))
        {
            File.Delete(played.Value.Path);
        }
    }

    private (string Path, PcmLayout Layout, long Start) Write(Session session, Track track)
    {
        var clock = session.Clock;
        var parts = track.Parts.Where(p => !p.Muted && p.Notes.Count > 0).ToList();
        var start = parts.Select(p => clock.SampleAt(p.StartQuarter)).DefaultIfEmpty(0).Min();
        var end = parts.Select(p => clock.SampleAt(p.EndQuarter)).DefaultIfEmpty(0).Max() + session.Rate.SamplesIn(Tails.InstrumentSeconds).RoundToEven();
        var layout = new PcmLayout(SampleEncoding.Float64, false, Channels, session.Rate, 0, Math.Max(0, end - start));
        Directory.CreateDirectory(scratch);
        var path = Path.Combine(scratch, $"{Guid.NewGuid():N}.notes");
        using var output = File.Create(path);
        using var sound = instruments.Play(session, track with { Channels = Channels });
        double[][] planar = [new double[Block], new double[Block]];
        var frames = new double[Block * Channels];
        for (long at = 0; at < layout.Frames; at += Block)
        {
            var count = (int)Math.Min(Block, layout.Frames - at);
            sound.Read(start + at, count, planar);
            for (var i = 0; i < count; i++)
            {
                (frames[2 * i], frames[(2 * i) + 1]) = (planar[0][i], planar[1][i]);
            }

            output.Write(MemoryMarshal.AsBytes(frames.AsSpan(0, count * Channels)));
        }

        return (path, layout, start);
    }

    private sealed class PlayedTrack(PcmSource source, long start, int channels) : ITrackSound
    {
        public void Read(long at, int count, double[][] into)
        {
            if (channels == Channels)
            {
                source.Read(at - start, count, into);
                return;
            }

            double[][] both = [new double[count], new double[count]];
            source.Read(at - start, count, both);
            Audio.Render.ChannelFold.Apply(both, Channels, into, channels, count);
        }

        public void Dispose() => source.Dispose();
    }
}
