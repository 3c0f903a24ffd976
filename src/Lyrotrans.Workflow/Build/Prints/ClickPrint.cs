using Lyrotrans.Audio.Click;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>The click as a print.</summary>
public sealed class ClickPrint(DeliveryPlan plan) : IPrint
{
    private readonly ClickRender _click = new(
        ClickTrack.Beats(plan.Session, plan.Preparation.Click, plan.ClickRange), plan.ClickRange, plan.Preparation.Click.LevelDb, plan.Session.Rate, plan.Preparation.Click.Voice);

    public int Channels => 1;

    public void Read(long at, int count, double[][] into) => _click.Read(at, count, into[0]);

    public void Dispose()
    {
    }
}
