using System.Collections.Concurrent;
using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Plays every notes track once, into a scratch file that all prints and mixes then read; deleted with this.</summary>
public sealed class NoteSoundFiles(INoteSounds instruments, string scratch) : INoteSounds, IDisposable
{
    private const int Channels = 2;
    private readonly ConcurrentDictionary<string, Lazy<ScratchSound>> _played = new();

    public ITrackSound Play(Session session, Track track)
    {
        var played = _played.GetOrAdd(track.Id, _ => new Lazy<ScratchSound>(() => Write(session, track))).Value;
        return track.Channels == Channels ? played.Open() : new Folded(played.Open(), track.Channels);
    }

    public void Dispose()
    {
        foreach (var played in _played.Values.Where(p => p.IsValueCreated))
        {
            played.Value.Dispose();
        }
    }

    private ScratchSound Write(Session session, Track track)
    {
        var clock = session.Clock;
        var parts = track.Parts.Where(p => !p.Muted && p.Notes.Count > 0).ToList();
        var start = parts.Select(p => clock.SampleAt(p.StartQuarter)).DefaultIfEmpty(0).Min();
        var end = parts.Select(p => clock.SampleAt(p.EndQuarter)).DefaultIfEmpty(0).Max() + session.Rate.SamplesIn(Tails.InstrumentSeconds).RoundToEven();
        using var sound = instruments.Play(session, track with { Channels = Channels });
        return ScratchSound.Write(scratch, session.Rate, Channels, new SampleRange(start, end), sound);
    }

    private sealed class Folded(ITrackSound both, int channels) : ITrackSound
    {
        public void Read(long at, int count, double[][] into)
        {
            double[][] two = [new double[count], new double[count]];
            both.Read(at, count, two);
            Audio.Render.ChannelFold.Apply(two, Channels, into, channels, count);
        }

        public void Dispose() => both.Dispose();
    }
}
