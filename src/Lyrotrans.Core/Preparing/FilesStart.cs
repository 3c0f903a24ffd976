using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>Where all files from zero begin.</summary>
public static class FilesStart
{
    /// <summary>Session sample, with the count-in where that moves all files.</summary>
    public static long Of(Session session, Preparation preparation) =>
        preparation.Click is { Goes: true, CountIn: CountIn.AllFiles } ? WithCountIn(session, preparation, BeforeCountIn(session, preparation)) : BeforeCountIn(session, preparation);

    /// <summary>A start, earlier by the bars of the count-in.</summary>
    public static long WithCountIn(Session session, Preparation preparation, long start) =>
        preparation.Click.CountInBars == 0 ? start : ClickTrack.CountInStart(session, start, preparation.Click.CountInBars);

    /// <summary>Session sample at which they would begin without a count-in.</summary>
    public static long BeforeCountIn(Session session, Preparation preparation) => preparation.From switch
    {
        RangeStart.Bar1 => session.Bar1Sample,
        RangeStart.Chosen => preparation.ChosenStart,
        _ => 0,
    };
}
