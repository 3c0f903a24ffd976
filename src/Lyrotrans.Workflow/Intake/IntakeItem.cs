using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Serialization;
using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Intake;

/// <summary>One file that was brought in, as it was recognised.</summary>
public sealed record IntakeItem
{
    private const int IdDigits = 20;

    /// <summary>The identifier of a file of a name: the same for both, and no part of the hash itself, since tracks and media are called after it in what goes to others.</summary>
    public static string IdOf(string sha256, string name) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{sha256}\n{name}")))[..IdDigits];

    /// <summary>Unique in the intake.</summary>
    public required string Id { get; init; }

    /// <summary>With the folders it came in, parted by <c>/</c>.</summary>
    public required string Name { get; init; }

    /// <summary>Of its bytes, in lower-case hex; empty for an archive that was refused.</summary>
    public required string Sha256 { get; init; }

    /// <summary>For sound that was taken out of a file with picture, or a container, the name of that; documents may call it so. Null for all else.</summary>
    public string? TakenFrom { get; init; }

    /// <summary>Its size.</summary>
    public long Bytes { get; init; }

    /// <summary>What it was recognised as.</summary>
    public ContentKind Kind { get; init; }

    /// <summary>For a document that says a session, the identifier of its format.</summary>
    public string? Format { get; init; }

    /// <summary>For sound, what its header says.</summary>
    public SoundFileFacts? Sound { get; init; }

    /// <summary>For a picture, its frames a second as a ratio in text; null where it does not say.</summary>
    public string? PictureRate { get; init; }

    /// <summary>For a picture, how long it is in seconds as a ratio in text; null where it does not say.</summary>
    public string? PictureSeconds { get; init; }

    /// <summary>For a picture, the seconds since midnight of its timecode as a ratio in text; null where it has none.</summary>
    public string? PictureStart { get; init; }

    /// <summary>For sound, a sum over its samples, the same for every file with the same ones; null where they are all 0, or were not measured.</summary>
    public string? SampleSum { get; init; }

    /// <summary>What it brings, in words and numbers.</summary>
    public IReadOnlyList<string> Brings { get; init; } = [];

    /// <summary>What was met in it.</summary>
    public IReadOnlyList<Finding> Findings { get; init; } = [];

    /// <summary>Why it could not be read; null when it could.</summary>
    public Finding? Error { get; init; }

    /// <summary>How it comes to its place on the timeline.</summary>
    public Placement Placement { get; init; } = new();

    /// <summary>For sound, the rate in samples a second that the engineer says it has, as a ratio in text; none is what its header says, which may be doubted.</summary>
    public string? DeclaredRate { get; init; }

    /// <summary>For sound, what it was decided to be; none is a track, or media of a document, and may be proposed to be something else.</summary>
    public ItemRole? Role { get; init; }

    /// <summary>For sound that nobody decided on, what it was heard to be like; none where it is like nothing here, or was not held to it.</summary>
    public HeardAs? Heard { get; init; }

    /// <summary>Whether it stands for what would be made here.</summary>
    [JsonIgnore]
    public bool HasRole => Role is { Kind: not RoleKind.Track };

    /// <summary>Whether it is of no use here and does not seem to: no sound, notes, session or picture, by content and by name.</summary>
    [JsonIgnore]
    public bool IsLeftOut => Error?.Code == FileCodes.UnknownContent && Kind == ContentKind.Unknown;

    /// <summary>Whether it says a session, and could be read.</summary>
    public bool IsDocument => Kind == ContentKind.Session && Error is null;

    /// <summary>Whether it is sound that could be read.</summary>
    public bool IsSound => Sound is not null && Error is null;

    /// <summary>The item with its sound at the rate that it was declared to have.</summary>
    public IntakeItem AsDeclared() => DeclaredRate is null || Sound is null ? this : this with { Sound = Sound with { Rate = DeclaredRate } };
}
