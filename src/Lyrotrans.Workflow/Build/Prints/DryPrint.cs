using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>The clips of a track as a print: gains, fades and crossfades, and nothing else.</summary>
public sealed class DryPrint : IPrint
{
    private readonly SampleRange _range;

    public DryPrint(Session session, Track track, SampleRange range, IMediaOpener opener)
    {
        Render = new TrackRender(session, track, opener);
        _range = range;
    }

    public int Channels => Render.Channels;

    /// <summary>For stretches that are copied as they are.</summary>
    public TrackRender Render { get; }

    /// <summary>The session sample of the file's first frame.</summary>
    public long Start => _range.Start;

    public void Read(long at, int count, double[][] into) => Render.Read(_range.Start + at, count, into);

    public void Dispose() => Render.Dispose();
}
