using System.Collections.Concurrent;
using Lyrotrans.Audio.Native;
using Lyrotrans.Core.Delivering;

namespace Lyrotrans.Audio.Instruments;

/// <summary>A synthesizer that plays one key at a time, from silence to silence.</summary>
/// <remarks>To make one takes as long as to play a few keys, so some wait for whoever plays next: a key sounds the same whatever was played before it.</remarks>
internal sealed class KeyPlayer
{
    private const int MostWaiting = 16;
    private const int Step = FluidSynth.BufferSize;
    private const int MostSteps = 32;
    private const double Gain = 0.5;
    private const int QuietLevels = 5;
    private static readonly Lock s_making = new();
    private static readonly ConcurrentBag<KeyPlayer> s_waiting = [];

    // The library shares the samples of a sound set among those who have it open, so one stays open for good: loading takes longer than playing a few keys.
    private static nint s_keeper;
    private readonly double _hz;
    private readonly nint _settings;
    private nint _synth;
    private readonly long _longest;
    private bool _sounds;
    private float[] _left = new float[Step * 1024];
    private float[] _right = new float[Step * 1024];

    private KeyPlayer(double hz)
    {
        _hz = hz;
        _longest = (long)(Tails.InstrumentSeconds * hz);
        lock (s_making)
        {
            _settings = Settings(hz);
            s_keeper = s_keeper == 0 ? Loaded(Settings(hz)) : s_keeper;
            _synth = Loaded(_settings);
        }
    }

    /// <summary>One that nobody plays on; whoever took it gives it back.</summary>
    /// <param name="hz">The rate of its sound.</param>
    public static KeyPlayer Take(double hz)
    {
        while (s_waiting.TryTake(out var player))
        {
            if (player._hz == hz)
            {
                return player;
            }

            player.Close();
        }

        return new KeyPlayer(hz);
    }

    /// <summary>Lets the next one play on it.</summary>
    public void GiveBack()
    {
        if (!_sounds && s_waiting.Count < MostWaiting)
        {
            s_waiting.Add(this);
            return;
        }

        Close();
    }

    /// <summary>A key from the sample on which it is struck until it is silent, or long enough after it was let go.</summary>
    /// <param name="on">The key.</param>
    /// <param name="controls">As they stand when it is struck.</param>
    /// <param name="events">All of the track's, ascending.</param>
    /// <param name="place">The key's own among them.</param>
    public PlayedKey Play(NoteEvent on, ControlState controls, List<NoteEvent> events, int place)
    {
        Silence();

        // A voice begins as the one left off that had its place before. So each key is struck twice, and only the second is heard: what was before it is itself.
        Strike(on, controls);
        Make(0, 1);
        _ = FluidSynth.Reset(_synth);
        Make(0, 1);
        Strike(on, controls);
        var made = 0;
        long? letGo = null;
        for (var next = place + 1; letGo is null || made - letGo < _longest;)
        {
            // Events between two steps wait for the later one.
            for (; next < events.Count && events[next].Sample <= on.Sample + made; next++)
            {
                var e = events[next];
                var own = e.Kind == NoteEventKind.Off && e.On == on.Sample && e.First == on.First && e.Channel == on.Channel;
                if (own || e.Kind is not (NoteEventKind.On or NoteEventKind.Off))
                {
                    Tell(e);
                }

                letGo = own ? made : letGo;
            }

            if (FluidSynth.ActiveVoices(_synth) == 0)
            {
                break;
            }

            // Up to the next event in one call; what is silent by then is silent there.
            var end = Math.Min(next < events.Count ? events[next].Sample - on.Sample : int.MaxValue, letGo is { } at ? at + _longest : int.MaxValue);
            var steps = (int)Math.Clamp((end - made + Step - 1) / Step, 1, MostSteps);
            Make(made, steps);
            made += steps * Step;
        }

        _sounds = FluidSynth.ActiveVoices(_synth) > 0;
        return new PlayedKey(on.Sample, _left.AsSpan(0, made), _right.AsSpan(0, made));
    }

    /// <summary>What was let go and is cut off while it sounds no reset ends: it would be heard in the next key, so that one gets a synthesizer that never played.</summary>
    private void Silence()
    {
        if (!_sounds)
        {
            return;
        }

        // The new one first: where there can be none, this one is still there to be closed.
        nint fresh;
        lock (s_making)
        {
            fresh = Loaded(_settings);
        }

        FluidSynth.DeleteSynth(_synth);
        (_synth, _sounds) = (fresh, false);
    }

    private void Close()
    {
        FluidSynth.DeleteSynth(_synth);
        FluidSynth.DeleteSettings(_settings);
    }

    private static nint Settings(double hz)
    {
        var settings = NativeCall.Of("libfluidsynth", FluidSynth.Package, FluidSynth.NewSettings);
        for (var level = 0; level < QuietLevels; level++)
        {
            FluidSynth.SetLog(level, 0, 0);
        }

        FluidSynth.SetNumber(settings, "synth.sample-rate", hz);
        FluidSynth.SetNumber(settings, "synth.gain", Gain);
        FluidSynth.SetInteger(settings, "synth.reverb.active", 0);
        FluidSynth.SetInteger(settings, "synth.chorus.active", 0);
        FluidSynth.SetInteger(settings, "synth.cpu-cores", 1);
        FluidSynth.SetInteger(settings, "synth.threadsafe-api", 0);
        FluidSynth.SetInteger(settings, "synth.polyphony", 32);
        return settings;
    }

    private static nint Loaded(nint settings)
    {
        var synth = FluidSynth.NewSynth(settings);
        return synth != 0 && FluidSynth.Load(synth, SoundFontSounds.SoundSet, 1) >= 0
            ? synth
            : throw new InvalidOperationException($"The stand-in sounds cannot be loaded from {SoundFontSounds.SoundSet}. Install the Debian package {SoundFontSounds.SoundSetPackage} again.");
    }

    private void Strike(NoteEvent on, ControlState controls)
    {
        _ = FluidSynth.Reset(_synth);
        foreach (var control in controls.Standing)
        {
            Tell(control);
        }

        Tell(on);
    }

    private unsafe void Make(int at, int steps)
    {
        if (at + (steps * Step) > _left.Length)
        {
            Array.Resize(ref _left, _left.Length * 2);
            Array.Resize(ref _right, _right.Length * 2);
        }

        fixed (float* left = _left, right = _right)
        {
            _ = FluidSynth.WriteFloat(_synth, steps * Step, left, at, 1, right, at, 1);
        }
    }

    private void Tell(NoteEvent e) => _ = e.Kind switch
    {
        NoteEventKind.On => FluidSynth.NoteOn(_synth, e.Channel, e.First, e.Second),
        NoteEventKind.Off => FluidSynth.NoteOff(_synth, e.Channel, e.First),
        NoteEventKind.Program => FluidSynth.Program(_synth, e.Channel, e.Second),
        NoteEventKind.Bend => FluidSynth.Bend(_synth, e.Channel, Math.Clamp(e.Second + 8192, 0, 16383)),
        NoteEventKind.ChannelPressure => FluidSynth.ChannelPressure(_synth, e.Channel, e.Second),
        NoteEventKind.KeyPressure => FluidSynth.KeyPressure(_synth, e.Channel, e.First, e.Second),
        _ => FluidSynth.Controller(_synth, e.Channel, e.First, e.Second),
    };
}
