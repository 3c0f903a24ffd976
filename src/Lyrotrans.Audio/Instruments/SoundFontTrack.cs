using System.Runtime.Intrinsics;
using Lyrotrans.Audio.Sources;

namespace Lyrotrans.Audio.Instruments;

/// <summary>
/// One track's notes as sound. The synthesizer takes events only every 64 samples, so every key is played by itself from its own sample on, with the controls as
/// they stand there, and the keys are added up.
/// </summary>
internal sealed class SoundFontTrack : ITrackSound
{
    private readonly List<NoteEvent> _events;
    private readonly double _hz;
    private readonly ControlState _controls = new();
    private readonly List<(long Start, float[] Left, float[] Right)> _sounding = [];
    private readonly long _runIn;
    private KeyPlayer? _player;
    private int _next;
    private bool _begun;

    public SoundFontTrack(List<NoteEvent> events, double hz, long runIn)
    {
        _events = events;
        _runIn = runIn;
        _hz = hz;
    }

    public void Read(long start, int count, double[][] into)
    {
        if (!_begun)
        {
            Skip(start);
        }

        foreach (var channel in into)
        {
            channel.AsSpan(0, count).Clear();
        }

        for (; _next < _events.Count && _events[_next].Sample < start + count; _next++)
        {
            var e = _events[_next];
            if (e.Kind == NoteEventKind.On)
            {
                _player ??= KeyPlayer.Take(_hz);
                var (left, right) = _player.Play(e, _controls, _events, _next);
                _sounding.Add((e.Sample, left, right));
            }
            else
            {
                _controls.Take(e);
            }
        }

        _sounding.RemoveAll(s => s.Start + s.Left.Length <= start);
        foreach (var (from, left, right) in _sounding)
        {
            Add(from - start, left, right, count, into);
        }
    }

    public void Dispose()
    {
        _player?.GiveBack();
        _player = null;
    }

    /// <summary>At the first read: controls that came before stand, keys that were struck within the run-in are played from there.</summary>
    private void Skip(long start)
    {
        _begun = true;
        for (; _next < _events.Count && _events[_next].Sample < start && start - _events[_next].Sample > _runIn; _next++)
        {
            _controls.Take(_events[_next]);
        }
    }

    private static void Add(long at, float[] left, float[] right, int count, double[][] into)
    {
        var first = (int)Math.Max(0, -at);
        var last = (int)Math.Min(left.Length, count - at);
        if (first >= last)
        {
            return;
        }

        var l = left.AsSpan(first, last - first);
        var r = right.AsSpan(first, last - first);
        if (into.Length == 1)
        {
            Add(l, 0.5, into[0].AsSpan((int)at + first));
            Add(r, 0.5, into[0].AsSpan((int)at + first));
            return;
        }

        Add(l, 1, into[0].AsSpan((int)at + first));
        Add(r, 1, into[1].AsSpan((int)at + first));
    }

    private static void Add(ReadOnlySpan<float> sound, double gain, Span<double> into)
    {
        var i = 0;
        for (; i + 8 <= sound.Length; i += 8)
        {
            var (lower, upper) = Vector256.Widen(Vector256.Create(sound[i..]));
            ((lower * gain) + Vector256.Create((ReadOnlySpan<double>)into[i..])).CopyTo(into[i..]);
            ((upper * gain) + Vector256.Create((ReadOnlySpan<double>)into[(i + 4)..])).CopyTo(into[(i + 4)..]);
        }

        for (; i < sound.Length; i++)
        {
            into[i] += sound[i] * gain;
        }
    }
}
