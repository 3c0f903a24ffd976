namespace Lyrotrans.Audio.Sources;

/// <summary>What a track plays, before its effects.</summary>
public interface ITrackSound : IDisposable
{
    /// <summary>Fills <c>into[channel][0 … count)</c> with session samples from <paramref name="start"/> on. Starts ascend from call to call.</summary>
    void Read(long start, int count, double[][] into);
}
