using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Following;

/// <summary>Whether a package can go to somebody who has an earlier one, and lie beside it: the same folder, start, timecode and rate.</summary>
public static class SameStart
{
    /// <summary>Why not, in words; null where it can.</summary>
    /// <param name="before">What was delivered.</param>
    /// <param name="now">What would be.</param>
    public static string? Problem(DeliveryPlan before, DeliveryPlan now)
    {
        if (now.Root != before.Root)
        {
            return $"The session was called {before.Root} then and is called {now.Root} now, so its files would lie in another folder. Call it as it was, or send a whole package.";
        }

        if (now.Timeline.Rate != before.Timeline.Rate)
        {
            return $"The files ran at {before.Timeline.Rate.Words} then and would run at {now.Timeline.Rate.Words} now. Choose that rate at Prepare, or send a whole package.";
        }

        var (then, start) = (before.Timeline.TimecodeScale.At(before.TimelineRange.Start), now.Timeline.TimecodeScale.At(now.TimelineRange.Start));
        return then.ToString() == start.ToString() && before.TimelineRange.Start == now.TimelineRange.Start && before.Session.Start == now.Session.Start ? null
            : $"The files began at {then}, sample {Digits.Grouped(before.Range.Start)}, and would begin at {start}, sample {Digits.Grouped(now.Range.Start)}, now: what was sent before would not line up with what is new. Choose that start at Prepare, or send a whole package.";
    }
}
