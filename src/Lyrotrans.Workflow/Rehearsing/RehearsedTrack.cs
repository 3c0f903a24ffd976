using Lyrotrans.Audio.Mix;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Rehearsing;

/// <summary>A track after its fader and pan, as it was sent and as it is read.</summary>
public sealed class RehearsedTrack : IDisposable
{
    /// <summary>Left and right.</summary>
    public const int Channels = 2;
    private readonly MixRender? _sent;
    private readonly MixRender? _read;

    internal RehearsedTrack(Session sent, Session read, Track track, IMediaFiles media, long from = 0)
    {
        (Rate, Length) = (sent.Rate, Math.Max(sent.EndSample, read.EndSample));
        From = Math.Clamp(from, 0, Length);
        _sent = Render(sent, track, media);
        _read = read.Tracks.FirstOrDefault(t => t.Id == track.Id) is { } there ? Render(read, there, media) : null;
    }

    /// <summary>Of what was sent, in which both are read.</summary>
    public SampleRate Rate { get; }

    /// <summary>The first sample that can be read.</summary>
    public long From { get; }

    /// <summary>In samples of the session that was sent.</summary>
    public long Length { get; }

    /// <summary>Reads what was sent; places ascend.</summary>
    public void ReadSent(long start, int count, double[][] into) => Read(_sent, start, count, into);

    /// <summary>Reads what becomes of it; silence where it is not read there.</summary>
    public void ReadBack(long start, int count, double[][] into) => Read(_read, start, count, into);

    public void Dispose()
    {
        _sent?.Dispose();
        _read?.Dispose();
    }

    /// <summary>Measures what is left of a track between sent and read. A track that is read as it was sent is not listened to.</summary>
    internal static RehearsedSound Compare(Session sent, Session read, Track track, IMediaFiles media, CancellationToken stop)
    {
        var there = read.Tracks.FirstOrDefault(t => t.Id == track.Id);
        if (there is not null && Sounding(there) == Sounding(track))
        {
            return new RehearsedSound(track.Id, track.Name, null, double.NegativeInfinity, double.NegativeInfinity, 0, true);
        }

        using var both = new RehearsedTrack(sent, read, track, media);
        var (ours, theirs) = (Printing.Planar(Channels), Printing.Planar(Channels));
        var (peak, left, at, squares) = (0.0, 0.0, 0L, 0.0);
        for (long start = 0; start < both.Length; start += Printing.Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Printing.Block, both.Length - start);
            both.ReadSent(start, count, ours);
            both.ReadBack(start, count, theirs);
            for (var c = 0; c < Channels; c++)
            {
                for (var i = 0; i < count; i++)
                {
                    var off = Math.Abs(theirs[c][i] - ours[c][i]);
                    peak = Math.Max(peak, Math.Abs(ours[c][i]));
                    squares += off * off;
                    (left, at) = off > left ? (off, start + i) : (left, at);
                }
            }
        }

        return new RehearsedSound(track.Id, track.Name, Decibels.FromRatio(peak), Decibels.FromRatio(left), Decibels.FromRatio(Math.Sqrt(squares / Math.Max(1, Channels * both.Length))), at, there is not null);
    }

    private static void Read(MixRender? render, long start, int count, double[][] into)
    {
        if (render is not null)
        {
            render.Read(start, count, into);
            return;
        }

        foreach (var channel in into)
        {
            Array.Clear(channel, 0, count);
        }
    }

    private MixRender Render(Session session, Track track, IMediaFiles media) =>
        new(session, track, MixPoint.AfterPan, new HashSet<string> { track.Id }, new MixSounds(new MediaOpener(media, session.Rate)), From);

    // What of a track can be heard.
    private static Track Sounding(Track track) => track with
    {
        Name = string.Empty,
        Note = string.Empty,
        Soloed = false,
        SoundingLane = 0,
        Lanes = [new Lane(string.Empty, [.. (track.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => c with { Id = string.Empty, Name = string.Empty, Note = string.Empty, Source = null })])],
    };
}
