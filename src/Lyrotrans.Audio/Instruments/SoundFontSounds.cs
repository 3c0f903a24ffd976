using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Instruments;

/// <summary>Stand-in instruments: a General MIDI sound set, played by libfluidsynth without its room and chorus.</summary>
/// <param name="runIn">Seconds before the first sample read from which keys are heard; what was struck earlier is not.</param>
public sealed class SoundFontSounds(int runIn = int.MaxValue) : INoteSounds
{
    /// <summary>Where Debian's package puts the sound set.</summary>
    public const string SoundSet = "/usr/share/sounds/sf2/TimGM6mb.sf2";

    /// <summary>The Debian package of the sound set.</summary>
    public const string SoundSetPackage = "timgm6mb-soundfont";

    /// <exception cref="InvalidOperationException">The library or the sound set is not installed, or the session is faster than the synthesizer.</exception>
    public ITrackSound Play(Session session, Track track)
    {
        if (!File.Exists(SoundSet))
        {
            throw new InvalidOperationException($"The stand-in sounds are not installed. Install the Debian package {SoundSetPackage}.");
        }

        if (session.Rate.PerSecond > RateLimits.FastestStandInHz)
        {
            throw new InvalidOperationException($"Stand-in sounds are made up to {RateLimits.FastestStandInHz} Hz; this session has {session.Rate}. Send the notes without a print, or hold them back.");
        }

        var samples = runIn == int.MaxValue ? long.MaxValue : session.Rate.SamplesIn(runIn).RoundToEven();
        return new SoundFontTrack(NoteEvent.Of(session, track), session.Rate.PerSecond.ToDouble(), samples);
    }
}
