namespace Lyrotrans.Audio.Mix;

/// <summary>Where a track's sound is taken.</summary>
public enum MixPoint
{
    /// <summary>After its effects, before its fader.</summary>
    AfterEffects,

    /// <summary>After its fader, before its pan.</summary>
    AfterFader,

    /// <summary>After its fader and pan: as it goes into what it feeds.</summary>
    AfterPan,
}
