using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A session to which files of another package of it came along, with what each stands for.</summary>
internal sealed class BroughtSounds(DemoSession demo, string package, DeliveryPlan from)
{
    private readonly Dictionary<string, string> _paths = [];
    private readonly List<Media> _media = [];
    private readonly List<Track> _tracks = [];

    /// <summary>Lays a file of the package into the session.</summary>
    public BroughtSounds Add(PlannedFile file, TrackKind kind, params string[] of)
    {
        var (id, path) = ($"brought-{_media.Count}", Path.Combine(demo.Folder, $"{Guid.NewGuid():N}.wav"));
        File.WriteAllBytes(path, PackageTamper.Read(package, file.Path));
        using var stream = File.OpenRead(path);
        var layout = WaveReader.Read(stream, path).Layout;
        _paths[id] = path;
        _media.Add(new Media { Id = id, FileName = Path.GetFileName(file.Path), Rate = layout.Rate, Encoding = layout.Encoding, Channels = layout.Channels, Length = layout.Frames, Place = MediaPlace.Beside });
        var clip = new Clip { Id = $"{id}-clip", Name = id, Media = id, ChannelMap = Enumerable.Range(0, layout.Channels).ToValueArray(), Start = from.Range.Start, Length = layout.Frames };
        _tracks.Add(new Track { Id = $"{id}-track", Name = Path.GetFileNameWithoutExtension(file.Path), Kind = kind, Of = [.. of], Channels = layout.Channels, Lanes = [new Lane("file", [clip])] });
        return this;
    }

    /// <summary>Lays a piece of a file of the package at session start, as a track, like a file that was cut at its first sound.</summary>
    /// <returns>What the intake says of it.</returns>
    public IntakeItem AddCut(PlannedFile file, long start, int frames)
    {
        var (id, path) = ($"brought-{_media.Count}", Path.Combine(demo.Folder, $"{Guid.NewGuid():N}.wav"));
        var bytes = PackageTamper.Read(package, file.Path);
        var layout = WaveReader.Read(new MemoryStream(bytes), path).Layout;
        var cut = layout with { DataOffset = 0, Frames = frames };
        File.WriteAllBytes(path, [.. WaveWriter.Head(cut), .. bytes.AsSpan((int)(layout.DataOffset + (start * layout.BytesPerFrame)), frames * layout.BytesPerFrame)]);
        _paths[id] = path;
        _media.Add(new Media { Id = id, FileName = $"{id}.wav", Rate = layout.Rate, Encoding = layout.Encoding, Channels = layout.Channels, Length = frames, Place = MediaPlace.Beside });
        var clip = new Clip { Id = $"{id}-clip", Name = id, Media = id, ChannelMap = Enumerable.Range(0, layout.Channels).ToValueArray(), Length = frames };
        _tracks.Add(new Track { Id = $"{id}-track", Name = id, Channels = layout.Channels, Lanes = [new Lane("file", [clip])] });
        return Item(_media[^1]);
    }

    /// <summary>Lays a file of the package into the session as a track.</summary>
    /// <returns>What the intake says of it, under a name that says nothing.</returns>
    public IntakeItem AddItem(PlannedFile file)
    {
        Add(file, TrackKind.Audio);
        return Item(_media[^1]);
    }

    public LoadedSession Loaded()
    {
        var session = demo.Loaded.Session;
        return demo.Loaded with
        {
            Session = session with { Media = [.. session.Media, .. _media], Tracks = [.. session.Tracks, .. _tracks] },
            Media = new Both(demo.Loaded.Media, new MappedMedia(_paths, demo.Loaded.Media.Scratch)),
        };
    }

    private static IntakeItem Item(Media media) => new()
    {
        Id = media.Id,
        Name = $"{media.Id}.wav",
        Sha256 = media.Id,
        Kind = ContentKind.Wave,
        Sound = new SoundFileFacts("WAVE", media.Encoding, media.Channels, media.Rate.PerSecond.ToString(), media.Length, null, []),
    };

    private sealed class Both(IMediaFiles first, IMediaFiles second) : IMediaFiles
    {
        public string Scratch => first.Scratch;

        public IStoredFile? FileOf(Media media) => second.FileOf(media) ?? first.FileOf(media);
    }
}
