namespace Lyrotrans.Core.Preparing;

/// <summary>Where stems and the guide mix are taken.</summary>
public enum StemMaster
{
    /// <summary>Before the master's effects: stems sum to the mix that is taken there.</summary>
    Before,

    /// <summary>Through the master. Where it is not linear, stems do not sum to the mix.</summary>
    Through,
}
