using Lyrotrans.Audio.Click;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Build.Prints;

namespace Lyrotrans.Web.Listening;

/// <summary>The session's grid over what is listened to: a click on every beat with the accents of its meter, and softer ones half-way between where they are asked for.</summary>
internal sealed class HeardGrid
{
    private const double LevelDb = -9;
    private const double HalvesDb = -21;
    private readonly ClickRender[] _clicks;
    private readonly double[] _samples = new double[Printing.Block];

    private HeardGrid(ClickRender[] clicks) => _clicks = clicks;

    /// <summary>What an address asks for: <c>beats</c>, or <c>halves</c> for the ones between too. Null where it asks for nothing.</summary>
    /// <param name="asked">As the address says it.</param>
    /// <param name="session">Whose grid.</param>
    /// <param name="choices">The accents of meters.</param>
    /// <param name="range">Session samples that are heard.</param>
    public static HeardGrid? Of(string? asked, Session session, ClickChoices choices, SampleRange range)
    {
        if (asked is not ("beats" or "halves"))
        {
            return null;
        }

        var beats = ClickTrack.Beats(session, choices with { Parts = 1 }, range);
        ClickRender Render(IReadOnlyList<ClickBeat> of, double level) => new(of, range, level, session.Rate);
        return new HeardGrid(asked == "beats" ? [Render(beats, LevelDb)] : [Render(beats, LevelDb), Render(Halves(session, beats, range), HalvesDb)]);
    }

    /// <summary>Adds it to a block, in all channels.</summary>
    /// <param name="at">The block's first frame, from the start of the range on.</param>
    /// <param name="count">Frames.</param>
    /// <param name="into">What is heard.</param>
    public void AddTo(long at, int count, double[][] into)
    {
        foreach (var click in _clicks)
        {
            click.Read(at, count, _samples);
            foreach (var channel in into)
            {
                System.Numerics.Tensors.TensorPrimitives.Add(channel.AsSpan(0, count), _samples.AsSpan(0, count), channel);
            }
        }
    }

    private static List<ClickBeat> Halves(Session session, IReadOnlyList<ClickBeat> beats, SampleRange range)
    {
        var clock = session.Clock;
        return [.. beats.Select(b => b with { Sample = clock.SampleAt(b.Beat.Quarter + (b.Beat.Meter.QuartersPerBeat / 2)), Strength = ClickStrength.Beat }).Where(b => b.Sample < range.End)];
    }
}
