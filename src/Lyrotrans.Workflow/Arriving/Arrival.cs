using Lyrotrans.Core.Arriving;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Workflow.Arriving;

/// <summary>Compares what the other side has with what was sent.</summary>
public static class Arrival
{
    private const double FilesTake = 0.3;
    private const double ClipsTake = 0.5;

    /// <param name="sent">What was sent, with its sound where it is here.</param>
    /// <param name="found">What the other side wrote of it, with its sound where it came along.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Heeded all along.</param>
    public static ArrivalReport Compare(SentPackage sent, LoadedSide found, Action<WorkProgress> report, CancellationToken stop)
    {
        if (found.Clips is not { } clips)
        {
            return ArrivalComparison.Compare(sent.Sent, found.Side, SoundOrigins.None);
        }

        void Report(double from, double part, double fraction, string doing) => report(new WorkProgress(from + (part * fraction), doing));
        var origins = ArrivalSounds.Origins(sent.Loaded, clips, new Dictionary<string, FoundOrigin>(), found.Side.IsEdit, f => Report(0, FilesTake, f, "comparing sound"), stop);
        if (found.Side.IsEdit)
        {
            return ArrivalComparison.Compare(sent.Sent, found.Side, origins);
        }

        // A file of a whole track holds stretches of what was sent; it is looked through for clips before it is taken for one of them.
        var (session, known) = ClipsInFiles.Of(sent, clips, origins.Known, f => Report(FilesTake, ClipsTake, f, "looking for clips in files"), stop);
        var left = clips with { Session = session };
        return ArrivalComparison.Compare(sent.Sent, found.Side with { Clips = session }, ArrivalSounds.Origins(sent.Loaded, left, known, true, f => Report(FilesTake + ClipsTake, 1 - FilesTake - ClipsTake, f, "comparing sound"), stop));
    }
}
