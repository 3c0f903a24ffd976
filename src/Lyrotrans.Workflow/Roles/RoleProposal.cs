using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Roles;

/// <summary>What a sound file seems to be, before anybody decided.</summary>
/// <param name="Item">Its identifier in the intake.</param>
/// <param name="Role">What it seems to be.</param>
/// <param name="Certainty">From 0 to 1.</param>
/// <param name="Reasons">What speaks for it, in words.</param>
public sealed record RoleProposal(string Item, ItemRole Role, double Certainty, IReadOnlyList<string> Reasons)
{
    /// <summary>What is at least so certain is taken in one press.</summary>
    public const double SureFrom = 0.75;

    /// <summary>Whether it is certain enough to be taken with others in one press.</summary>
    public bool IsSure => Certainty >= SureFrom;
}
