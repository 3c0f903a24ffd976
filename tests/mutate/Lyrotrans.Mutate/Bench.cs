using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Demo;
using Lyrotrans.Files;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Mutate;

/// <summary>The packages of the demo that are altered: between them every output that there is.</summary>
internal sealed class Bench : IDisposable
{
    private static readonly DateTimeOffset s_stamp = new(2026, 3, 21, 10, 0, 0, TimeSpan.Zero);
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-mutate-").FullName;
    private readonly LoadedSession _loaded;

    public Bench()
    {
        DemoFiles.Write(_folder, 0.1);
        _loaded = SessionLoader.Load(Path.Combine(_folder, "session"), Path.Combine(_folder, "scratch"));
    }

    public static IReadOnlyList<(string Name, Func<Preparation, Preparation> Choose)> Packages { get; } =
    [
        ("WAV, AAF", p => With(AllPrinted.Of(p, StemMaster.Before), "AAF")),
        ("FLAC, OMF", p => With(AllPrinted.Of(p, StemMaster.Through) with { Container = SoundContainer.Flac, Encoding = SampleEncoding.Integer16 }, "OMF")),
        ("AIFF, OTIO", p => With(AllPrinted.Of(p, StemMaster.Before) with { Container = SoundContainer.Aiff }, "OTIO")),
    ];

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    public DeliveryPlan Plan(Func<Preparation, Preparation> choose, Func<Session, Session>? change = null)
    {
        var session = change is null ? _loaded.Session : change(_loaded.Session);
        return DeliveryPlan.Make(session, choose(Preparation.Default(_loaded.Session, SessionFormats.Usual)), SoundMeasures.FromFiles(session, _loaded.Media, CancellationToken.None));
    }

    public PackageParts Build(DeliveryPlan plan)
    {
        var zip = Path.Combine(_folder, $"{Guid.NewGuid():N}.zip");
        PackageFile.Build(plan, _loaded.Media, zip, s_stamp, _ => { }, CancellationToken.None);
        var parts = PackageParts.Read(zip, s_stamp);
        File.Delete(zip);
        return parts;
    }

    /// <summary>Whether a proof sees that something is wrong.</summary>
    public bool Sees(byte[] zip, DeliveryPlan plan)
    {
        var path = Path.Combine(_folder, $"{Guid.NewGuid():N}.zip");
        File.WriteAllBytes(path, zip);
        try
        {
            return !PackageProof.Prove(new DiskFile(path), "package.zip", plan, _loaded.Media, _ => { }, CancellationToken.None).Passed;
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
        ".json" or ".otio" => JsonMutations.Of(path, bytes),
        ".mid" => MidiMutations.Of(path, bytes),
        ".csv" or ".html" or "" => TextMutations.Of(path, bytes),
        _ => [],
    };

    /// <summary>Each file that a session which says something else would have in its place, the others as they are.</summary>
    private IEnumerable<Mutation> Said(PackageParts parts, Func<Preparation, Preparation> choose, string how, Func<Session, Session> change)
    {
        var other = Build(Plan(choose, change)).Files.ToDictionary(f => f.Path, f => f.Bytes);
        return parts.Files.Where(f => !f.Path.EndsWith(PackageParts.ManifestName, StringComparison.Ordinal) && !f.Path.EndsWith(PackageParts.SumsName, StringComparison.Ordinal))
            .Where(f => other.TryGetValue(f.Path, out var bytes) && !bytes.AsSpan().SequenceEqual(f.Bytes))
            .Select(f => Mutation.OfFile(f.Path, how, _ => other[f.Path]));
    }

    private static Preparation With(Preparation preparation, string format)
    {
        // Every second audio track keeps its clips, so that both ways are in it.
        var audio = preparation.Tracks.Where(t => t.Treatment is Treatment.PrintDry).Select((t, i) => (t.TrackId, Keeps: i % 2 == 0)).ToDictionary(t => t.TrackId, t => t.Keeps);
        return preparation with
        {
            Clips = new ClipChoices(SessionFormats.OfClips.First(f => f.Id == format).Clips) { Media = format == "OTIO" ? ClipMediaForm.BesideWave : ClipMediaForm.InsideWave },
            Tracks = preparation.Tracks.Select(t => audio.GetValueOrDefault(t.TrackId) ? t with { Treatment = Treatment.KeepClips } : t).ToValueArray(),
        };
    }
}
