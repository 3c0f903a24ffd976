using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Opens media at the rates that the session says they have.</summary>
/// <param name="files">Where they lie.</param>
/// <param name="rate">The session's, which they must be near enough to be converted to.</param>
public sealed class MediaOpener(IMediaFiles files, SampleRate rate) : IMediaOpener
{
    /// <exception cref="BadInputException">The file cannot be read, or its rate is too far from the session's to be converted.</exception>
    public ISampleSource? Open(Media media)
    {
        if (files.FileOf(media) is not { } file)
        {
            return null;
        }

        if (!RateLimits.CanConvert(media.Rate, rate))
        {
            throw new BadInputException(SoundFileCodes.RateTooFar, media.FileName, string.Empty, $"Its rate of {media.Rate} cannot be converted to {rate}.", "Say at Intake which rate it has, or bring in another file.");
        }

        var source = SoundFile.Open(file, media.FileName).Source;
        return media.Rate == source.Rate ? source : new DeclaredRate(source, media.Rate);
    }

    /// <summary>A source read at the rate that the session says it has.</summary>
    private sealed class DeclaredRate(ISampleSource source, SampleRate declared) : ISampleSource
    {
        public int Channels => source.Channels;

        public long Length => source.Length;

        public SampleRate Rate { get; } = declared;

        public void Read(long start, int count, double[][] into) => source.Read(start, count, into);

        public void Dispose() => source.Dispose();
    }
}
