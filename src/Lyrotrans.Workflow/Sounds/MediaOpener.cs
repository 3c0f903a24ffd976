using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>
/// Opens media at the session's rate. A file of another rate is converted once, whole, to a scratch file of 64-bit floats
/// that is deleted with this.
/// </summary>
public sealed class MediaOpener(IMediaFiles files, SampleRate rate, CancellationToken stop) : IMediaOpener, IDisposable
{
    private readonly Dictionary<string, (string Path, PcmLayout Layout)> _converted = [];
    private readonly Lock _lock = new();

    public ISampleSource? Open(Media media)
    {
        if (files.PathOf(media) is not { } path)
        {
            return null;
        }

        if (media.Rate == rate)
        {
            return SoundFile.Open(path, media.FileName).Source;
        }

        lock (_lock)
        {
            var (scratch, layout) = _converted.TryGetValue(media.Id, out var known) ? known : _converted[media.Id] = Convert(media, path);
            return new PcmSource(File.OpenRead(scratch), layout);
        }
    }

    public void Dispose()
    {
        foreach (var (path, _) in _converted.Values)
        {
            File.Delete(path);
        }
    }

    private (string Path, PcmLayout Layout) Convert(Media media, string path)
    {
        Directory.CreateDirectory(files.Scratch);
        var name = System.Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(media.Id)))[..16];
        var scratch = Path.Combine(files.Scratch, $"{name}-{Guid.NewGuid():N}.f64");
        using var file = SoundFile.Open(path, media.FileName);
        using var output = File.Create(scratch);
        using var declared = new DeclaredRate(file.Source, media.Rate);
        return (scratch, RateConverter.Convert(declared, rate, output, stop));
    }

    /// <summary>A source read at the rate that the session says it has.</summary>
    private sealed class DeclaredRate(ISampleSource source, SampleRate declared) : ISampleSource
    {
        public int Channels => source.Channels;

        public long Length => source.Length;

        public SampleRate Rate { get; } = declared;

        public void Read(long start, int count, double[][] into) => source.Read(start, count, into);

        public void Dispose()
        {
        }
    }
}
