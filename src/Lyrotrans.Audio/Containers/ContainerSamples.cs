using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Containers;

/// <summary>The samples of a sound in a container, decoded by ffmpeg: all its streams at once, each by a process of its own, side by side as little-endian bytes.</summary>
public sealed class ContainerSamples : IDisposable
{
    private readonly string _name;
    private readonly ContainerSound _sound;
    private readonly ToolProcess[] _tools;
    private readonly long[] _decoded;
    private readonly bool[] _ended;
    private readonly byte[][] _blocks;
    private long _at;

    /// <param name="path">On disk.</param>
    /// <param name="name">For errors.</param>
    /// <param name="format">As ffmpeg calls it: <c>mxf</c> or <c>mov</c>.</param>
    /// <param name="sound">One that <see cref="ContainerProbe"/> found in it.</param>
    public ContainerSamples(string path, string name, string format, ContainerSound sound)
    {
        (_name, _sound) = (name, sound);
        _tools = [.. sound.Streams.Select(s => ToolProcess.Start("ffmpeg", Decoding(Path.GetFullPath(path), format, s, sound.Encoding), name))];
        _decoded = new long[_tools.Length];
        _ended = new bool[_tools.Length];
        _blocks = [.. sound.Streams.Select(_ => Array.Empty<byte>())];
    }

    /// <summary>Frames that the stream that lacks most should have had and that could not be decoded; silence was given for them. Known at the end.</summary>
    public long Missing => _sound.Streams.Select((s, i) => s.IsLossy || s.Frames is not { } said ? 0 : Math.Max(0, said - _decoded[i])).Max();

    /// <summary>Fills a block with the next frames, every channel of every stream; a stream that is shorter goes on in silence up to the longest, or as far as was said.</summary>
    /// <param name="into">Gets whole frames.</param>
    /// <returns>Frames; fewer than fit at the end only.</returns>
    /// <exception cref="BadInputException">Nothing can be decoded, or it takes too long.</exception>
    public int Read(Span<byte> into)
    {
        var (bytes, frame) = (_sound.Encoding.Bytes(), _sound.Encoding.Bytes() * _sound.Channels);
        var (most, longest, channel) = (into.Length / frame, 0, 0);
        into.Fill(_sound.Encoding == SampleEncoding.Unsigned8 ? (byte)0x80 : (byte)0);
        for (var i = 0; i < _tools.Length; i++)
        {
            var stream = _sound.Streams[i];
            var silent = (int)Math.Clamp(stream.Before - _at, 0, most);
            var count = silent + Decode(i, most - silent, stream.Channels * bytes);
            for (var n = silent; n < count; n++)
            {
                _blocks[i].AsSpan((n - silent) * stream.Channels * bytes, stream.Channels * bytes).CopyTo(into[((n * frame) + (channel * bytes))..]);
            }

            channel += stream.Channels;

            // Where it breaks off before its end it is silent from there, so that nothing after it moves.
            var said = stream.IsLossy || stream.Frames is null ? 0 : Math.Max(0, stream.Frames.Value + stream.Before - _at);
            longest = Math.Max(longest, (int)Math.Max(count, Math.Min(most, said)));
        }

        if (longest < most && _decoded.All(d => d == 0))
        {
            throw ContainerProbe.NotRead(_name, "nothing of it can be decoded");
        }

        _at += longest;
        return longest;
    }

    public void Dispose()
    {
        foreach (var tool in _tools)
        {
            tool.Dispose();
        }
    }

    private int Decode(int i, int frames, int bytesPerFrame)
    {
        if (_ended[i] || frames == 0)
        {
            return 0;
        }

        if (_blocks[i].Length < frames * bytesPerFrame)
        {
            _blocks[i] = new byte[frames * bytesPerFrame];
        }

        var read = _tools[i].Read(_blocks[i].AsSpan(0, frames * bytesPerFrame)) / bytesPerFrame;
        _decoded[i] += read;
        if (read < frames)
        {
            _ended[i] = true;
            _ = _tools[i].Succeeded();
            if (_tools[i].TookTooLong)
            {
                throw ContainerProbe.NotRead(_name, "decoding it takes too long");
            }
        }

        return read;
    }

    private static IEnumerable<string> Decoding(string path, string format, ContainerStream stream, SampleEncoding encoding)
    {
        var raw = encoding switch { SampleEncoding.Unsigned8 => "u8", SampleEncoding.Integer16 => "s16le", SampleEncoding.Integer24 => "s24le", SampleEncoding.Integer32 => "s32le", SampleEncoding.Float64 => "f64le", _ => "f32le" };
        return ["-v", "error", "-nostdin", "-threads", "1", .. ContainerProbe.Open(path, format), "-map", $"0:{stream.Index}", "-c:a", $"pcm_{raw}", "-f", raw, "pipe:1"];
    }
}
