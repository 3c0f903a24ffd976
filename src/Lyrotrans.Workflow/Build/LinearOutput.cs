using Lyrotrans.Audio.Pcm;

namespace Lyrotrans.Workflow.Build;

/// <summary>A file of plain samples that a sound goes into while it is made.</summary>
internal sealed class LinearOutput : ISoundOutput
{
    private readonly FileStream _file;
    private readonly SoundLayout _layout;
    private readonly PcmEncoder _encoder;
    private byte[] _bytes = [];

    /// <param name="path">A new file on disk.</param>
    /// <param name="layout">What is written.</param>
    /// <param name="dither">That of the file that it is the same sound as.</param>
    public LinearOutput(string path, SoundLayout layout, Dither dither)
    {
        (_file, _layout) = (File.Create(path), layout);
        _encoder = new PcmEncoder(layout.Layout.Encoding, dither, layout.Layout.BigEndian);
        _file.Write(layout.Head);
    }

    public void Write(double[][] samples, int count)
    {
        var bytes = count * _layout.Layout.BytesPerFrame;
        _bytes = _bytes.Length < bytes ? new byte[bytes] : _bytes;
        _encoder.Encode(samples, _layout.Layout.Channels, count, _bytes);
        _file.Write(_bytes, 0, bytes);
    }

    public void Finish()
    {
        if ((_layout.Layout.DataBytes & 1) == 1)
        {
            _file.WriteByte(0);
        }

        _file.Flush();
    }

    public void Dispose() => _file.Dispose();
}
