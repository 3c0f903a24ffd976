using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Demo;

/// <summary>Makes the sound files of the scenario and keeps what the session says of them.</summary>
internal sealed class DemoMedia(string folder, double scale)
{
    private readonly List<Media> _all = [];

    public IReadOnlyList<Media> All => _all;

    public double Scale { get; } = scale;

    /// <summary>A file of so many seconds at scale 1, made by <paramref name="make"/> channel by channel.</summary>
    public Media Add(string name, double seconds, uint seed, Func<Synth, double, double[][]> make, int rate = 48_000)
    {
        var channels = make(new Synth(rate, seed), seconds * Scale);
        var layout = new PcmLayout(SampleEncoding.Integer24, false, channels.Length, SampleRate.FromHz(rate), 0, channels[0].Length);
        Directory.CreateDirectory(Path.Combine(folder, "media"));
        using (var output = File.Create(Path.Combine(folder, "media", name)))
        {
            output.Write(WaveWriter.Head(layout, new BroadcastExtension("Orrery Suite", "Quillfeather Hall", 36_000L * rate, "2026-03-21", "10:00:00")));
            var bytes = new byte[layout.DataBytes];
            new PcmEncoder(SampleEncoding.Integer24).Encode(channels, channels.Length, channels[0].Length, bytes);
            output.Write(bytes);
            output.Write(new byte[layout.DataBytes & 1]);
        }

        using var written = File.OpenRead(Path.Combine(folder, "media", name));
        var media = new Media
        {
            Id = Path.GetFileNameWithoutExtension(name),
            FileName = $"media/{name}",
            Rate = layout.Rate,
            Encoding = layout.Encoding,
            Channels = layout.Channels,
            Length = layout.Frames,
            TimeReference = 36_000L * rate,
            Sha256 = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(written)),
        };
        _all.Add(media);
        return media;
    }
}
