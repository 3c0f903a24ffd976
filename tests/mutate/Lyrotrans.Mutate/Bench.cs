using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Files;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Mutate;

/// <summary>Makes packages, between them with every output that there is, and proves what was altered.</summary>
internal sealed class Bench : IDisposable
{
    private static readonly PackageMaker s_maker = new(new(2026, 3, 21, 10, 0, 0, TimeSpan.Zero), SigningKey.New());
    private static readonly Dictionary<PublicKey, string> s_known = new() { [s_maker.Key.Public] = "the bench's key" };
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-mutate-").FullName;
    private readonly Session _session;
    private readonly MappedMedia _media;

    public Bench()
    {
        (_session, var paths) = SmallSession.Write(_folder);
        _media = new MappedMedia(paths, Path.Combine(_folder, "scratch"));
    }

    /// <summary>The packages that are altered.</summary>
    public static IReadOnlyList<(string Name, Func<Preparation, Preparation> Choose)> Packages { get; } =
    [
        ("WAV, AAF", p => With(p, "AAF", ClipMediaForm.InsideWave)),
        ("FLAC, OMF", p => With(p, "OMF", ClipMediaForm.InsideWave) with { Container = SoundContainer.Flac, Encoding = SampleEncoding.Integer16 }),
        ("AIFF, OTIO", p => With(p, "OTIO", ClipMediaForm.BesideWave) with { Container = SoundContainer.Aiff }),
    ];

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    public DeliveryPlan Plan(Func<Preparation, Preparation> choose, Func<Session, Session>? change = null)
    {
        var session = change is null ? _session : change(_session);
        var (preparation, sounds) = (choose(Preparation.Default(_session, SessionFormats.Usual)), SoundMeasures.FromFiles(session, _media, CancellationToken.None));
        return DeliveryPlan.Make(session, preparation.Accepting(DeliveryPlan.Make(session, preparation, sounds).Gaps.All.Select(g => g.Name)), sounds);
    }

    public PackageParts Build(DeliveryPlan plan)
    {
        var zip = Path.Combine(_folder, $"{Guid.NewGuid():N}.zip");
        PackageFile.Build(plan, _media, zip, s_maker, _ => { }, CancellationToken.None);
        var parts = PackageParts.Read(zip, s_maker);
        File.Delete(zip);
        return parts;
    }

    /// <summary>Whether a proof sees that something is wrong.</summary>
    /// <param name="foreign">Whether it may be signed by anybody.</param>
    public bool Sees(byte[] zip, DeliveryPlan plan, bool foreign)
    {
        var path = Path.Combine(_folder, $"{Guid.NewGuid():N}.zip");
        File.WriteAllBytes(path, zip);
        try
        {
            return !PackageProof.Prove(new DiskFile(path), "package.zip", plan, _media, _ => { }, CancellationToken.None, ProofTerms.Own with { Known = s_known, MadeHere = !foreign }).Passed;
        }
        catch (BadInputException)
        {
            return true;
        }
        finally
        {
            File.Delete(path);
        }
    }

    /// <summary>Every mutation of a package.</summary>
    public IEnumerable<Mutation> Mutations(PackageParts parts, Func<Preparation, Preparation> choose)
    {
        foreach (var (path, bytes) in parts.Files)
        {
            foreach (var mutation in ByteMutations.Of(path, bytes).Concat(OfKind(path, bytes)))
            {
                yield return mutation;
            }
        }

        foreach (var mutation in ZipMutations.All().Concat(SessionMutations.All.SelectMany(change => Said(parts, choose, change.How, change.Change))))
        {
            yield return mutation;
        }
    }

    private static IEnumerable<Mutation> OfKind(string path, byte[] bytes) => Path.GetExtension(path) switch
    {
        ".wav" => WaveMutations.Of(path, bytes),
        ".json" or ".otio" or ".sig" => JsonMutations.Of(path, bytes),
        ".mid" => MidiMutations.Of(path, bytes),
        ".csv" or ".html" or "" => TextMutations.Of(path, bytes),
        _ => [],
    };

    /// <summary>Each file that a session which says something else would have in its place, the others as they are.</summary>
    private IEnumerable<Mutation> Said(PackageParts parts, Func<Preparation, Preparation> choose, string how, Func<Session, Session> change)
    {
        var other = Build(Plan(choose, change)).Files.ToDictionary(f => f.Path, f => f.Bytes);
        return parts.Files.Where(f => !f.Path.EndsWith(PackageParts.ManifestName, StringComparison.Ordinal) && !f.Path.EndsWith(PackageParts.SumsName, StringComparison.Ordinal) && !f.Path.EndsWith(PackageParts.SignatureName, StringComparison.Ordinal))
            .Where(f => other.TryGetValue(f.Path, out var bytes) && !bytes.AsSpan().SequenceEqual(f.Bytes))
            .Select(f => Mutation.OfFile(f.Path, how, _ => other[f.Path]));
    }

    private static Preparation With(Preparation preparation, string format, ClipMediaForm media) => preparation with
    {
        Clips = new ClipChoices(SessionFormats.OfClips.First(f => f.Id == format).Clips) { Media = media },
        Mix = new MixChoices(Stems: true, StemMaster.Before, Guide: true, ListeningCopies.GuideMix, Levels: true),
        Click = new ClickChoices(Print: true),
        Tail = 2400,
        LongestTail = 4800,
        Tracks = preparation.Tracks.Select(t => t.TrackId switch
        {
            "horn" or "piano" => t with { Treatment = Treatment.KeepClips },
            "bell" => t with { Treatment = Treatment.PrintThrough },
            "hall" => t with { Treatment = Treatment.PrintThrough },
            _ => t,
        }).ToValueArray(),
    };
}
