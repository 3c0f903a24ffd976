using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>
/// The samples of a print as the bytes of its file. What goes through untouched is copied from its media as bytes; only the rest is computed. Both give the
/// same bytes.
/// </summary>
public sealed class PrintBytes
{
    private readonly IPrint _print;
    private readonly PcmLayout _layout;
    private readonly PcmEncoder _encoder;
    private readonly DryPrint? _direct;
    private readonly double[][] _samples;

    public PrintBytes(IPrint print, PcmLayout layout, PrintRule rule)
    {
        _print = print;
        _layout = layout;
        _encoder = new PcmEncoder(layout.Encoding, rule.Dither, layout.BigEndian);
        _direct = rule.Dither == Dither.None && !layout.BigEndian && !layout.Encoding.IsFloat() ? print as DryPrint : null;
        _samples = Printing.Planar(print.Channels);
    }

    /// <summary>Samples that were above full scale and were held there.</summary>
    public long Overs => _encoder.Overs;

    /// <summary>The samples of the last block, in case they were asked for.</summary>
    public double[][] Samples => _samples;

    /// <summary>Fills frames from <paramref name="at"/> on, at most a block of them.</summary>
    /// <param name="needSamples">Whether <see cref="Samples"/> is wanted too; then nothing is copied past it.</param>
    public void Fill(long at, int count, Span<byte> into, bool needSamples = false)
    {
        if (_direct is not null && !needSamples)
        {
            FillDirect(_direct, at, count, into);
            return;
        }

        _print.Read(at, count, _samples);
        _encoder.Encode(_samples, _layout.Channels, count, into);
    }

    /// <summary>Whether frames from <paramref name="at"/> on are silence and copies only.</summary>
    public bool IsCopied(long at, int count)
    {
        for (var done = 0L; done < count;)
        {
            if (_direct is null)
            {
                return false;
            }

            var stretch = _direct.Render.StretchAt(_direct.Start + at + done);
            if (!stretch.IsSilent && stretch.Clip is null)
            {
                return false;
            }

            done = stretch.End - _direct.Start - at;
        }

        return true;
    }

    private void FillDirect(DryPrint dry, long at, int count, Span<byte> into)
    {
        var frame = _layout.BytesPerFrame;
        for (var done = 0; done < count;)
        {
            var sample = dry.Start + at + done;
            var stretch = dry.Render.StretchAt(sample);
            var piece = (int)Math.Min(count - done, stretch.End - sample);
            var bytes = into.Slice(done * frame, piece * frame);
            if (stretch.IsSilent)
            {
                bytes.Fill(_layout.Encoding.SilentByte());
            }
            else if (stretch.Clip is not { } clip || !dry.Render.TryCopy(clip, sample, piece, _layout, bytes))
            {
                dry.Read(at + done, piece, _samples);
                _encoder.Encode(_samples, _layout.Channels, piece, bytes);
            }

            done += piece;
        }
    }
}
