using Lyrotrans.Audio.Click;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Joining;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>The click as a print, made at the rate of its file.</summary>
public sealed class ClickPrint : IPrint
{
    private readonly ClickRender _click;

    public ClickPrint(DeliveryPlan plan) => _click = Render(plan, plan.Preparation.Click.LevelDb);

    public int Channels => 1;

    /// <summary>The clicks of a plan, in samples of their file's rate.</summary>
    public static IReadOnlyList<ClickBeat> Beats(DeliveryPlan plan) => ClickTrack.Beats(Grid(plan), plan.Preparation.Click, plan.Forms.SpanOf(FileKind.Click));

    /// <summary>Their sound.</summary>
    /// <param name="plan">With the click's choices.</param>
    /// <param name="levelDb">The peak of a bar's first beat, in dBFS.</param>
    public static ClickRender Render(DeliveryPlan plan, double levelDb) =>
        new(Beats(plan), plan.Forms.SpanOf(FileKind.Click), levelDb, plan.Forms[FileKind.Click].Rate, plan.Preparation.Click.Voice);

    public void Read(long at, int count, double[][] into) => _click.Read(at, count, into[0]);

    public void Dispose()
    {
    }

    private static Session Grid(DeliveryPlan plan) =>
        plan.Forms[FileKind.Click].Rate is var rate && rate == plan.Session.Rate ? plan.Session : rate == plan.Timeline.Rate ? plan.Timeline : SessionMove.Exactly(plan.Session, rate);
}
