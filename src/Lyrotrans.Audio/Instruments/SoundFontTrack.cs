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
    private readonly List<PlayedKey> _sounding = [];
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
                _sounding.Add(_player.Play(e, _controls, _events, _next));
            }
            else
            {
                _controls.Take(e);
            }
        }

        LetGo(k => k.End <= start);
        foreach (var key in _sounding)
        {
            Add(key, start, count, into);
        }
    }

    public void Dispose()
    {
        LetGo(_ => true);
        _player?.GiveBack();
        _player = null;
    }

    private void LetGo(Func<PlayedKey, bool> over)
    {
        foreach (var key in _sounding.Where(over).ToList())
        {
            _sounding.Remove(key);
            key.Dispose();
        }
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

    private static void Add(PlayedKey key, long start, int count, double[][] into)
    {
        var (first, last) = (Math.Max(start, key.Start), Math.Min(start + count, key.End));
        if (first >= last)
        {
            return;
        }

        var (at, length) = ((int)(first - start), (int)(last - first));
        var gain = into.Length == 1 ? 0.5 : 1;
        Add(key.Left(first, length), gain, into[0].AsSpan(at, length));
        Add(key.Right(first, length), gain, into[^1].AsSpan(at, length));
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
