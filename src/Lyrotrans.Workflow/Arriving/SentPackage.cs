using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Arriving;

/// <summary>What was sent, with its sound where it is here.</summary>
/// <param name="Sent">What it brings onto a timeline.</param>
/// <param name="Media">Where the sound of its media lies.</param>
public sealed record SentPackage(SentSession Sent, IMediaFiles Media)
{
    /// <summary>The session with its sound.</summary>
    public LoadedSession Loaded => new(Sent.Session, Media, []);

    /// <summary>A package as its receiver got it: sound is taken from its own files.</summary>
    /// <param name="files">The package's.</param>
    /// <param name="plan">That it was built by.</param>
    /// <param name="scratch">Gets the media that lie inside a file of clips.</param>
    /// <param name="stop">Heeded between media.</param>
    /// <param name="wanted">Ids of the media whose sound is wanted; null is all.</param>
    public static SentPackage Of(IReadOnlyList<KeptFile> files, DeliveryPlan plan, string scratch, CancellationToken stop, IReadOnlySet<string>? wanted = null)
    {
        var (kept, sounds) = (files.ToDictionary(f => f.Path), new Dictionary<string, IStoredFile>());
        foreach (var file in plan.Files.Where(f => kept.ContainsKey(f.Path)))
        {
            if (file.IsSound || file.Kind == PlannedKind.ClipMedia)
            {
                sounds[file.MediaId ?? file.Path] = kept[file.Path].File;
            }
            else if (file.Kind == PlannedKind.ClipFile)
            {
                Directory.CreateDirectory(scratch);
                using var embedded = EmbeddedMedia.Open(kept[file.Path].File, Path.GetFileName(file.Path));
                foreach (var medium in embedded.Extract(scratch, stop, wanted))
                {
                    sounds[medium.Media.Id] = new DiskFile(medium.Path);
                }
            }
        }

        var midi = plan.Files.Where(f => f.Kind == PlannedKind.Midi && kept.ContainsKey(f.Path)).ToList();
        var music = midi.Count == 0 ? null : LoadedSide.Music(midi.Select(f => (Path.GetFileName(f.Path), kept[f.Path].File.Open())), scratch);
        return new SentPackage(SentSession.Of(plan, music?.Session), new KnownMedia(sounds, scratch));
    }

    /// <summary>A session that was sent as it is.</summary>
    public static SentPackage Whole(LoadedSide side) => new(SentSession.Whole(side.Side), side.Clips?.Media ?? new KnownMedia(new Dictionary<string, IStoredFile>(), string.Empty));

    private sealed class KnownMedia(IReadOnlyDictionary<string, IStoredFile> files, string scratch) : IMediaFiles
    {
        public string Scratch { get; } = scratch;

        public IStoredFile? FileOf(Media media) => files.GetValueOrDefault(media.Id);
    }
}
