using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Demo;
using Lyrotrans.Files;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

[assembly: AssemblyFixture(typeof(Lyrotrans.Workflow.Tests.DemoSession))]

namespace Lyrotrans.Workflow.Tests;

/// <summary>A short demo session on disk, made once for all tests.</summary>
public sealed class DemoSession : IDisposable
{
    public static readonly DateTimeOffset Stamp = new(2026, 3, 21, 10, 0, 0, TimeSpan.Zero);

    /// <summary>Who makes the packages of tests.</summary>
    public static PackageMaker Maker { get; } = new(Stamp, new SigningKey(Enumerable.Range(1, 32).Select(b => (byte)b).ToArray()));

    /// <summary>Its key, as it is known.</summary>
    public static IReadOnlyDictionary<PublicKey, string> Known { get; } = new Dictionary<PublicKey, string> { [Maker.Key.Public] = "the tests' key" };

    public DemoSession()
    {
        DemoFiles.Write(Folder, 0.1);
        WithPicture = SessionLoader.Load(Path.Combine(Folder, "session"), Path.Combine(Folder, "scratch"));
        Loaded = WithPicture with { Session = WithPicture.Session with { Picture = WithPicture.Session.Picture! with { Sha256 = null, FramesPerSecond = null, SoundChannels = 0, Bytes = 0 } } };
        Stamped = SessionLoader.Load(Path.Combine(Folder, "stamped"), Path.Combine(Folder, "scratch"));
    }

    public string Folder { get; } = Directory.CreateTempSubdirectory("lyro-tests-").FullName;

    /// <summary>Its picture is known by name only: making one takes longer than all else.</summary>
    public LoadedSession Loaded { get; }

    /// <summary>The same with the file of its picture.</summary>
    public LoadedSession WithPicture { get; }

    public LoadedSession Stamped { get; }

    public DeliveryPlan Plan(Func<Preparation, Preparation>? change = null, LoadedSession? loaded = null)
    {
        loaded ??= Loaded;
        var preparation = Preparation.Default(loaded.Session, SessionFormats.Usual);
        return DeliveryPlan.Make(loaded.Session, change is null ? preparation : change(preparation), SoundMeasures.FromFiles(loaded.Session, loaded.Media, CancellationToken.None));
    }

    public string Build(DeliveryPlan plan, LoadedSession? loaded = null)
    {
        var path = Path.Combine(Folder, $"{Guid.NewGuid():N}.zip");
        PackageFile.Build(plan, (loaded ?? Loaded).Media, path, Maker, _ => { }, CancellationToken.None);
        return path;
    }

    public Core.Proof.ProofReport Prove(string zip, DeliveryPlan plan, LoadedSession? loaded = null) =>
        PackageProof.Prove(new DiskFile(zip), "package.zip", plan, (loaded ?? Loaded).Media, _ => { }, CancellationToken.None, ProofTerms.Own with { Known = Known, MadeHere = true });

    public void Dispose() => Directory.Delete(Folder, recursive: true);
}
