using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Tests;

/// <summary>
/// A mix worked out plainly: whole arrays, one sample at a time, nothing late and nothing to make up for. Knows only effects whose sound is easily said: gain, delay,
/// and limiters that have nothing to limit, which do nothing.
/// </summary>
internal sealed class PlainMix(Session session, IReadOnlyDictionary<string, double[][]> sounds, int count)
{
    private readonly Dictionary<string, double[][]> _effects = [];

    /// <summary>After a track's effects, or after its fader and pan in two channels.</summary>
    public double[][] After(string id, bool effects)
    {
        var track = session.Tracks.First(t => t.Id == id);
        return effects ? Effects(track) : Panned(Faded(track), 2, track.Pan, track.PanAutomation);
    }

    private double[][] Effects(Track track)
    {
        if (_effects.TryGetValue(track.Id, out var known))
        {
            return known;
        }

        var made = Enumerable.Range(0, track.Channels).Select(_ => new double[count]).ToArray();
        foreach (var clip in track.Lanes.SelectMany(l => l.Clips))
        {
            for (var c = 0; c < track.Channels; c++)
            {
                for (var i = 0; i < clip.Length && clip.Start + i < count; i++)
                {
                    made[c][clip.Start + i] = sounds[clip.Media][c][i];
                }
            }
        }

        Feeds(track, made);
        made = made.Select(c => c.Select(v => track.Inverted ? -v : v).ToArray()).ToArray();
        foreach (var insert in track.Inserts.Where(i => !i.Bypassed))
        {
            made = made.Select(c => Effect(insert, c)).ToArray();
        }

        return _effects[track.Id] = made;
    }

    private void Feeds(Track track, double[][] into)
    {
        var master = session.Tracks.First(t => t.Kind == TrackKind.Master).Id;
        foreach (var from in session.Tracks.Where(t => t.Id != master))
        {
            if ((from.Output ?? master) == track.Id)
            {
                Add(Panned(Faded(from), track.Channels, from.Pan, from.PanAutomation), into);
            }

            foreach (var send in from.Sends.Where(s => s.Target == track.Id))
            {
                var sound = send.PreFader ? Effects(from) : Faded(from);
                var level = sound.Select(c => c.Select((v, i) => v * Math.Pow(10, (send.LevelDb + (send.LevelAutomation?.ValueAt(i) ?? 0)) / 20)).ToArray()).ToArray();
                Add(Panned(level, track.Channels, send.Pan, null), into);
            }
        }
    }

    private void Add(double[][] sound, double[][] sum)
    {
        for (var c = 0; c < sum.Length; c++)
        {
            for (var i = 0; i < count; i++)
            {
                sum[c][i] += sound[c][i];
            }
        }
    }

    private double[][] Faded(Track track) => Effects(track)
        .Select(c => c.Select((v, i) => v * Math.Pow(10, (track.FaderDb + (track.FaderAutomation?.ValueAt(i) ?? 0)) / 20)).ToArray()).ToArray();

    private double[][] Panned(double[][] sound, int channels, double pan, Automation? moves)
    {
        if (channels == 1)
        {
            return [[.. Enumerable.Range(0, count).Select(i => sound.Average(c => c[i]))]];
        }

        var (left, right) = (new double[count], new double[count]);
        for (var i = 0; i < count; i++)
        {
            for (var c = 0; c < sound.Length; c++)
            {
                var at = sound.Length > 2 ? -1 + (2.0 * c / (sound.Length - 1)) : moves?.ValueAt(i) ?? pan;
                var (l, r) = sound.Length == 2 ? (c == 0 ? Math.Min(1, 1 - at) : 0, c == 1 ? Math.Min(1, 1 + at) : 0) : Law(at);
                left[i] += l * sound[c][i];
                right[i] += r * sound[c][i];
            }
        }

        return [left, right];
    }

    private (double Left, double Right) Law(double pan)
    {
        var angle = (pan + 1) * Math.PI / 4;
        var power = session.PanLaw switch { PanLaw.Minus3 => 1, PanLaw.Minus4Point5 => 1.5, _ => 2.0 };
        return session.PanLaw == PanLaw.Zero ? (Math.Min(1, 1 - pan), Math.Min(1, 1 + pan)) : (Math.Pow(Math.Max(0, Math.Cos(angle)), power), Math.Pow(Math.Max(0, Math.Sin(angle)), power));
    }

    private double[] Effect(Insert insert, double[] sound)
    {
        double Of(string name) => insert.Parameters.First(p => p.Name == name).Value;
        if (insert.Effect == "limiter")
        {
            return sound;
        }

        if (insert.Effect == "gain")
        {
            return sound.Select(v => v * Math.Pow(10, Of("gain dB") / 20)).ToArray();
        }

        var (made, time, level) = (sound.Select(v => v * 0.5).ToArray(), (int)Of("time ms") * 48, 0.5);
        for (var echo = time; echo < count; echo += time, level *= Of("feedback"))
        {
            for (var i = echo; i < count; i++)
            {
                made[i] += level * sound[i - echo];
            }
        }

        return made;
    }
}
