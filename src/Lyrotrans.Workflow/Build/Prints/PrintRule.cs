using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>How one print is made exact: whether it needs arithmetic, the noise that is added where bits are lost, and the error that leaves.</summary>
public sealed record PrintRule(bool NeedsArithmetic, Dither Dither, double BoundDb)
{
    private const double FloatBoundDb = -140;

    /// <summary>Of clips alone.</summary>
    /// <param name="session">The session.</param>
    /// <param name="track">Whose clips.</param>
    /// <param name="choice">Its row.</param>
    /// <param name="form">Of the file.</param>
    /// <param name="ditherTo24">Whether noise is added where bits are lost to 24 too.</param>
    /// <param name="facts">What tells the print from all others: its noise is its own.</param>
    public static PrintRule Of(Session session, Track track, TrackChoice choice, FileForm form, bool ditherTo24, string facts)
    {
        var folds = DeliveryPlan.ChannelsOf(track, choice, TrackRoles.Of(session)) < track.Channels && choice.Channels != DeliveredChannels.Separate;
        var arithmetic = folds || TrackRender.NeedsArithmetic(session, track);
        return With(arithmetic || TrackRender.Precision(session, track) > form.Encoding.Precision(), form.Encoding, form.Dither, ditherTo24, facts);
    }

    /// <summary>Of what is made: a mix, an effect, the click.</summary>
    /// <param name="form">Of the file.</param>
    /// <param name="ditherTo24">Whether noise is added where bits are lost to 24 too.</param>
    /// <param name="facts">What tells the print from all others: its noise is its own.</param>
    public static PrintRule OfMade(FileForm form, bool ditherTo24, string facts) => With(true, form.Encoding, form.Dither, ditherTo24, facts);

    /// <summary>The largest error of what is made, in dBFS.</summary>
    public static double BoundOfMade(FileForm form, bool ditherTo24) => OfMade(form, ditherTo24, string.Empty).BoundDb;

    // To 16 bits the lost part is audible as distortion, so it is dithered; at 24 bits rounding lies below −140 dBFS, and noise is added when asked.
    private static PrintRule With(bool loses, SampleEncoding encoding, DitherForm dither, bool ditherTo24, string facts)
    {
        var noise = !loses || encoding.IsFloat() || encoding.Bits() > (ditherTo24 ? 24 : 16) ? DitherNoise.None
            : dither == DitherForm.Shaped ? DitherNoise.Shaped
            : DitherNoise.Flat;
        var bound = encoding.IsFloat() ? FloatBoundDb : Decibels.FromRatio(PcmEncoder.MostSteps(noise) * Math.Pow(2, 1 - encoding.Bits())) + 0.001;
        return new PrintRule(loses, Dither.Of(noise, facts), bound);
    }
}
