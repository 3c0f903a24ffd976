namespace Lyrotrans.Workflow.Rehearsing;

/// <summary>A track as it would sound at its receiver's.</summary>
/// <param name="Track">Its id in what was sent.</param>
/// <param name="Name">As it was sent.</param>
/// <param name="PeakDb">The loudest sample of the track after fader and pan, in dBFS; negative infinity for silence, null where it was not listened to because it is read as it was sent.</param>
/// <param name="LeftDb">The loudest sample of what is left between sent and read, in dBFS; negative infinity where they are the same to the sample.</param>
/// <param name="LeftMeanDb">The root mean square of what is left, in dBFS.</param>
/// <param name="LoudestAt">The sample of the session at which most is left.</param>
/// <param name="IsThere">Whether the track is read at all.</param>
public sealed record RehearsedSound(string Track, string Name, double? PeakDb, double LeftDb, double LeftMeanDb, long LoudestAt, bool IsThere)
{
    /// <summary>A step of 24 bits, in dBFS: what is left below it no file of 24 bits holds.</summary>
    public static readonly double StepDb = 20 * Math.Log10(Math.Pow(2, -23));

    /// <summary>Whether less is left than a step of 24 bits.</summary>
    public bool IsSame => LeftDb < StepDb;
}
