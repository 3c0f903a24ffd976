using System.Collections;
using System.Diagnostics.CodeAnalysis;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>
/// Where the sound of a session's media ends, by media id, each looked for from its end when it is first asked for; missing media is not in it. The other
/// measures are not made.
/// </summary>
public sealed class SoundEndDictionary(Session session, IMediaFiles files, CancellationToken stop) : IReadOnlyDictionary<string, MediaSound>
{
    private const int Block = 16_384;
    private readonly Dictionary<string, Media> _media = session.Media.ToDictionary(m => m.Id);
    private readonly Dictionary<string, MediaSound?> _measured = [];
    private readonly Lock _lock = new();

    public IEnumerable<string> Keys => _media.Keys.Where(ContainsKey);

    public IEnumerable<MediaSound> Values => Keys.Select(k => this[k]);

    public int Count => Keys.Count();

    public MediaSound this[string key] => TryGetValue(key, out var sound) ? sound : throw new KeyNotFoundException(key);

    public bool ContainsKey(string key) => TryGetValue(key, out _);

    public bool TryGetValue(string key, [MaybeNullWhen(false)] out MediaSound value)
    {
        lock (_lock)
        {
            if (!_measured.TryGetValue(key, out value))
            {
                value = _measured[key] = _media.TryGetValue(key, out var media) && files.FileOf(media) is { } file ? Measure(media, file) : null;
            }

            return value is not null;
        }
    }

    public IEnumerator<KeyValuePair<string, MediaSound>> GetEnumerator() => Keys.Select(k => KeyValuePair.Create(k, this[k])).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    private long EndOf(ISampleSource source)
    {
        var planar = Enumerable.Range(0, source.Channels).Select(_ => new double[Block]).ToArray();
        for (var end = source.Length; end > 0; end -= Block)
        {
            stop.ThrowIfCancellationRequested();
            var start = Math.Max(0, end - Block);
            source.Read(start, (int)(end - start), planar);
            for (var i = (int)(end - start) - 1; i >= 0; i--)
            {
                if (planar.Any(c => Math.Abs(c[i]) > SoundMeter.Silence))
                {
                    return start + i + 1;
                }
            }
        }

        return 0;
    }

    private MediaSound Measure(Media media, IStoredFile file)
    {
        using var sound = SoundFile.Open(file, media.FileName);
        return new MediaSound(0, EndOf(sound.Source), double.NaN, null, 0);
    }
}
