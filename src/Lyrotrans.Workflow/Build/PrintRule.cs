using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Build;

/// <summary>How one track's print is made exact: whether it needs arithmetic, whether bits are lost, and the error that leaves.</summary>
public sealed record PrintRule(bool NeedsArithmetic, bool Dither, double BoundDb)
{
    private const double FloatBoundDb = -140;

    public static PrintRule Of(Session session, Track track, TrackChoice choice, SampleEncoding encoding)
    {
        var folds = DeliveryPlan.ChannelsOf(track, choice) < track.Channels;
        var arithmetic = folds || TrackRender.NeedsArithmetic(session, track);
        var loses = arithmetic || TrackRender.Precision(session, track) > encoding.Precision();

        // To 16 bits the lost part is audible as distortion, so it is dithered; at 24 bits rounding lies below −140 dBFS.
        return With(loses, loses && encoding == SampleEncoding.Integer16, encoding);
    }

    /// <summary>The click is made, so it is always rounded.</summary>
    public static PrintRule OfClick(SampleEncoding encoding) => With(true, encoding == SampleEncoding.Integer16, encoding);

    private static PrintRule With(bool loses, bool dither, SampleEncoding encoding)
    {
        var steps = dither ? 1.5 : 0.5;
        var bound = encoding.IsFloat() ? FloatBoundDb : Decibels.FromRatio(steps * Math.Pow(2, 1 - encoding.Bits())) + 0.001;
        return new PrintRule(loses, dither, bound);
    }
}
