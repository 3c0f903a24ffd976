using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Build;

/// <summary>A track's print as samples, block by block: the dry sound of the delivered range, in the delivered channels.</summary>
public sealed class PrintedTrack : IDisposable
{
    public const int Block = 32_768;
    private readonly TrackRender _render;
    private readonly double[][] _track;
    private readonly int _channels;
    private readonly DeliveryRange _range;

    public PrintedTrack(Session session, Track track, int channels, DeliveryRange range, IMediaOpener opener)
    {
        _render = new TrackRender(session, track, opener);
        _channels = channels;
        _range = range;
        _track = Planar(Math.Max(1, track.Channels));
    }

    /// <summary>Fills a block from frame <paramref name="at"/> of the file on.</summary>
    public void Read(long at, int count, double[][] into)
    {
        if (_channels == _render.Channels)
        {
            _render.Read(_range.Start + at, count, into);
            return;
        }

        _render.Read(_range.Start + at, count, _track);
        ChannelFold.Apply(_track, _render.Channels, into, _channels, count);
    }

    public void Dispose() => _render.Dispose();

    public static double[][] Planar(int channels) => Enumerable.Range(0, channels).Select(_ => new double[Block]).ToArray();
}
