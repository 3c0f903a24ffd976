using Lyrotrans.Audio.Containers;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Pictures;

/// <summary>How a picture is made from its source: which frames, and whether they can be copied.</summary>
/// <param name="FirstFrame">The first that goes, from 0, in the order in which they are seen.</param>
/// <param name="FirstPacket">For a copy, the first that goes in the order of decoding.</param>
/// <param name="Frames">How many go.</param>
/// <param name="IsCopy">Whether they are copied.</param>
/// <param name="Why">Why they are coded anew; empty for a copy.</param>
public sealed record PictureWay(long FirstFrame, int FirstPacket, long Frames, bool IsCopy, string Why)
{
    /// <param name="source">The picture.</param>
    /// <param name="plan">What is to go of it.</param>
    /// <param name="packets">Its frames.</param>
    /// <exception cref="BadInputException">It ends before the first frame that should go, or its frames are not found by their numbers.</exception>
    public static PictureWay Of(PictureSource source, PicturePlan plan, PicturePackets packets)
    {
        var tick = source.Picture.Tick ?? new Rational(1, 90_000);
        if (plan.FirstFrame >= packets.Seen)
        {
            throw NotMade(source, "it ends before the files begin", "Let it go whole, or not at all.");
        }

        if (plan.FirstFrame > 0 && !packets.AreEven(1 / (plan.FramesPerSecond * tick)))
        {
            throw NotMade(source, "its frames are not all seen equally long, so it cannot be cut at a frame", "Let it go whole, or ask for it with a constant frame rate.");
        }

        var cut = packets.CutAt(plan.FirstFrame);
        var why = plan.Form != PictureForm.AsItIs ? "another form was asked for"
            : cut is null && !packets.AllSeen ? "not all that lies in it is seen"
            : cut is null ? "it is cut inside a group of pictures"
            : string.Empty;
        return new PictureWay(plan.FirstFrame, cut ?? 0, packets.Seen - plan.FirstFrame, why.Length == 0, why);
    }

    private static BadInputException NotMade(PictureSource source, string why, string help) => new(ContainerCodes.NotMade, source.Name, string.Empty, $"Its picture cannot be made: {why}.", help);
}
