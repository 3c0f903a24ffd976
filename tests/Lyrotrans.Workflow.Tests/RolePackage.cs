using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Demo;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>The demo and a package of every kind of print of it, made once for all tests of a class.</summary>
public sealed class RolePackage : IDisposable
{
    public RolePackage()
    {
        Plan = Of(Demo.Loaded);
        Package = Demo.Build(Plan);
    }

    public DemoSession Demo { get; } = new();

    public DeliveryPlan Plan { get; }

    public string Package { get; }

    public DeliveryPlan Of(LoadedSession loaded) => Demo.Plan(Prepared, loaded);

    /// <summary>Every kind of print, in float.</summary>
    public Preparation Prepared(Preparation preparation) =>
        AllPrinted.Of(preparation, StemMaster.Before) with { Encoding = SampleEncoding.Float32, Accepted = ["instrument Bass drum", "instrument Glass pad", "instrument Harp", "instrument Celesta"] };

    public void Dispose() => Demo.Dispose();
}
