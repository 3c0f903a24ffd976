using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Core.Rehearsing;

/// <summary>How a receiver's program reads a package: what it leaves out, how it calls things, and at which rate its session runs.</summary>
/// <param name="Unread">What it does not read, in the order of the kinds.</param>
/// <param name="LongestName">Of tracks and clips, in characters; null is any.</param>
/// <param name="Letters">Which characters names may have there.</param>
/// <param name="Hz">Samples a second of the session there, to whose samples places are rounded; null is that of the package.</param>
public sealed record ReadingLimits(IReadOnlyList<ReadingLimit> Unread, long? LongestName = null, NameLetters Letters = NameLetters.Any, long? Hz = null)
{
    /// <summary>What each is called, and what becomes of what is not read.</summary>
    public static ChoiceList<ReadingLimit> Kinds { get; } = new()
    {
        { ReadingLimit.Clips, "clips", "files of clips", "only files of sound come in" },
        { ReadingLimit.BetweenFrames, "between-frames", "places between frames", "both ends of a clip go to the nearest frame" },
        { ReadingLimit.Channels, "channels", "channels after the first", "stereo comes in as its left channel" },
        { ReadingLimit.Crossfades, "crossfades", "crossfades", "the later clip cuts the earlier" },
        { ReadingLimit.Fades, "fades", "fades", "clips begin and end hard" },
        { ReadingLimit.ClipGain, "clip-gain", "clip gain", "clips play at unity" },
        { ReadingLimit.Volume, "volume", "volume", "faders stand at unity, without automation" },
        { ReadingLimit.Pan, "pan", "pan", "tracks sit in the centre, without automation" },
        { ReadingLimit.Mutes, "mutes", "mutes of clips", "muted clips sound" },
        { ReadingLimit.MidiTracks, "midi-tracks", "MIDI of several tracks", "all notes come on one track, as in MIDI files of type 0" },
    };

    /// <summary>A program that reads everything.</summary>
    public static ReadingLimits None { get; } = new([]);

    /// <summary>Whether something of this kind is not read.</summary>
    public bool Has(ReadingLimit limit) => Unread.Contains(limit);

    /// <summary>What a sheet says of how its room reads. A sheet says what it wants, and what it wants done before it is taken for what its program cannot do itself.</summary>
    /// <param name="asked">A preparation with the sheet's choices.</param>
    /// <param name="sent">The format of the package's clips; null where it has none.</param>
    public static ReadingLimits Of(Preparation asked, ClipFormat? sent)
    {
        if (asked.Sheet is not { } terms)
        {
            return None;
        }

        var clips = asked.Clips;
        var unread = new (ReadingLimit Limit, bool Holds)[]
        {
            (ReadingLimit.Clips, sent is not null && terms.FormatIds.Count > 0 && !terms.FormatIds.Contains(sent.Id)),
            (ReadingLimit.BetweenFrames, clips.FrameUnits),
            (ReadingLimit.Channels, asked.Kinds[FileKind.Tracks].Channels is DeliveredChannels.Mono or DeliveredChannels.Separate),
            (ReadingLimit.Crossfades, clips.FadesAs == FadeForm.Rendered),
            (ReadingLimit.Fades, clips.FadesAs == FadeForm.Rendered),
            (ReadingLimit.ClipGain, clips.RenderGain),
            (ReadingLimit.Volume, clips.Volume != VolumeForm.Kept),
            (ReadingLimit.Pan, clips.Pan != PanForm.Kept),
            (ReadingLimit.Mutes, !terms.MutedClips),
        };
        return new ReadingLimits([.. unread.Where(u => u.Holds).Select(u => u.Limit)], terms.LongestName, terms.Letters, terms.Rate);
    }
}
