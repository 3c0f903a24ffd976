using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>Where the session of a file of clips begins, which has a rate and a start of its own.</summary>
public static class ClipStart
{
    /// <summary>The sample of the plan's session, at its rate, on which sample 0 of the file of clips lies; the clock says what both have in common.</summary>
    /// <param name="plan">With clips.</param>
    public static long Of(DeliveryPlan plan) => plan.Session.TimecodeScale.FirstSampleOf(plan.Clips!.Session.Start with { Frames = Nearest(plan, plan.Clips.Session.Start) });

    // A start a few frames before midnight is before a session that starts at midnight.
    private static long Nearest(DeliveryPlan plan, Timecode start)
    {
        var (own, day) = (plan.Session.Start.Frames, plan.Session.FrameRate.FramesPerDay);
        return start.Frames - own > day / 2 ? start.Frames - day : start.Frames;
    }
}
