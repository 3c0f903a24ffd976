using Lyrotrans.Core.Relinking;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Build;

/// <summary>
/// The bytes of a medium of kept clips: a header, and the samples. Where nothing is done to a plain file's samples their bytes are copied; else they are
/// rendered as prints are.
/// </summary>
public sealed class ClipSound
{
    private const int CopyBytes = 1 << 18;
    private readonly Session _session;
    private readonly ClipMedia _medium;
    private readonly IMediaOpener _opener;
    private readonly IMediaFiles _files;
    private readonly CancellationToken _stop;
    private readonly bool _bigEndian;
    private readonly Preparation _preparation;

    public ClipSound(DeliveryPlan plan, ClipMedia medium, IMediaOpener opener, IMediaFiles files, CancellationToken stop)
    {
        _session = plan.ClipSession;
        _medium = medium;
        _opener = opener;
        _preparation = plan.Preparation;
        _files = files;
        _stop = stop;
        _bigEndian = plan.Preparation.Clips.MediaForm.IsAiff();
        Layout = new PcmLayout(medium.Media.Encoding, _bigEndian, medium.Media.Channels, medium.Media.Rate, 0, medium.Media.Length);
        Head = plan.Preparation.Clips.MediaForm == ClipMediaForm.InsideSamples ? [] : _bigEndian ? AiffWriter.Head(Layout) : WaveHead(plan, medium, Layout);
    }

    /// <summary>The form of its samples.</summary>
    public PcmLayout Layout { get; }

    /// <summary>What lies before the samples; nothing where they lie alone.</summary>
    public byte[] Head { get; }

    private long Padding => Head.Length > 0 ? Layout.DataBytes & 1 : 0;

    /// <summary>Of all that <see cref="Write"/> writes.</summary>
    public long Bytes => Head.Length + Layout.DataBytes + Padding;

    /// <summary>Writes head, samples and padding.</summary>
    public void Write(Stream output)
    {
        output.Write(Head);
        WriteSamples(output);
        if (Padding > 0)
        {
            output.WriteByte(0);
        }
    }

    /// <summary>The samples alone.</summary>
    public void WriteSamples(Stream output)
    {
        if (PlainFile() is { } plain)
        {
            Copy(plain.File, plain.Layout, output);
        }
        else
        {
            Render(output);
        }
    }

    // The date of a file that is made anew for every build would make each build another; the sheet and the manifest say when. Without a stamp there is no
    // bext chunk, which would say one.
    private static byte[] WaveHead(DeliveryPlan plan, ClipMedia medium, PcmLayout layout)
    {
        var (media, project, umid) = (medium.Media, plan.Session.Name, MobId.Whole(medium.Media.Id));
        var broadcast = media.TimeReference is { } stamp ? new BroadcastExtension($"{project}: {media.FileName}", "Lyrotrans", stamp, Umid: umid) : null;
        var name = Path.GetFileNameWithoutExtension(media.FileName);
        var texts = new WaveTexts(project, name, WaveTexts.ChannelNames(name, media.Channels), plan.Session.FrameRate, media.TimeReference, umid);
        return WaveWriter.Head(layout, broadcast, [], texts.Ixml(layout), texts.Info());
    }

    /// <summary>The file whose bytes can be copied as they are.</summary>
    private (IStoredFile File, PcmLayout Layout)? PlainFile()
    {
        if (_medium.IsMade || _bigEndian || _medium.Sound.Sounding?.Clips is not [var clip])
        {
            return null;
        }

        var source = _session.Media.First(m => m.Id == clip.Media);
        if (source.Rate != _session.Rate || !clip.ChannelMap.SequenceEqual(Enumerable.Range(0, source.Channels)) || _files.FileOf(source) is not { } file)
        {
            return null;
        }

        using var sound = SoundFile.Open(file, source.FileName);
        return sound.Header is { Layout: { BigEndian: false } layout } && layout.Encoding == Layout.Encoding && layout.Channels == Layout.Channels
            && _medium.Range.Start >= 0 && _medium.Range.End <= layout.Frames
            ? (file, layout)
            : null;
    }

    private void Copy(IStoredFile file, PcmLayout layout, Stream output)
    {
        using var input = file.Open();
        input.Position = layout.DataOffset + (_medium.Range.Start * layout.BytesPerFrame);
        var buffer = new byte[CopyBytes];
        for (var left = Layout.DataBytes; left > 0;)
        {
            _stop.ThrowIfCancellationRequested();
            var read = input.Read(buffer, 0, (int)Math.Min(left, buffer.Length));
            if (read == 0)
            {
                throw new IOException($"{_medium.Media.FileName}: the file became shorter while it was read.");
            }

            output.Write(buffer, 0, read);
            left -= read;
        }
    }

    private void Render(Stream output)
    {
        using var print = Print();
        var rule = PrintRule.Of(_session, _medium.Sound, new TrackChoice(_medium.Sound.Id, Treatment.PrintDry), new FileForm(Layout.Rate, Layout.Encoding, _preparation.Dither, _preparation.Container, null, FileRange.AllFiles), _preparation.DitherTo24, Facts());
        var made = new PrintBytes(print, Layout, rule);
        var bytes = new byte[Printing.Block * Layout.BytesPerFrame];
        for (long at = 0; at < Layout.Frames; at += Printing.Block)
        {
            _stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Printing.Block, Layout.Frames - at);
            var piece = bytes.AsSpan(0, count * Layout.BytesPerFrame);
            made.Fill(at, count, piece);
            output.Write(piece);
        }
    }

    // Which sound it holds, not what that is called or how it sounds.
    private string Facts() => string.Join('\n', _medium.Sound.Sounding!.Clips.Select(c => FormattableString.Invariant($"{c.Media} {c.SourceOffset} {c.Start} {string.Join(',', c.ChannelMap)}"))
        .Prepend(FormattableString.Invariant($"medium\n{_session.Rate}\n{Layout.Encoding.Bits()}\n{_medium.Range.Start}\n{_medium.Range.End}")));

    private IPrint Print()
    {
        var print = new DryPrint(_session, _medium.Sound, _medium.Range, _opener);
        return print.Channels == Layout.Channels ? print : new FoldedPrint(print, Layout.Channels, null, 1);
    }
}
