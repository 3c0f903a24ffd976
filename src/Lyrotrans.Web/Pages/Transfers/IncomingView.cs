using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Workflow.Incoming;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>A package that was brought in, as Intake shows it.</summary>
/// <param name="Check">What its files are, held to its manifest.</param>
/// <param name="Whose">Whose key signed it, where it is known here.</param>
/// <param name="FromZero">Its files from zero, held to each other, in words.</param>
/// <param name="IsEven">Whether all of them begin at one sample and are equally long.</param>
/// <param name="IsOwn">Whether it replies to a package that went from here.</param>
public sealed record IncomingView(IncomingCheck Check, string? Whose, string FromZero, bool IsEven, bool IsOwn)
{
    private const int MostNamed = 6;

    public string Verdict => Check.Verdict(Whose);

    /// <summary>Names of files, at most a few.</summary>
    public static string Some(IReadOnlyList<string> paths) => $"{string.Join(", ", paths.Take(MostNamed))}{(paths.Count > MostNamed ? $" and {Digits.Grouped(paths.Count - MostNamed)} more" : string.Empty)}";

    /// <summary>What its files bring.</summary>
    public string Brings => string.Join(", ", new[]
    {
        Count(PlannedKind.FromZero, "file from zero", "files from zero"), Count(PlannedKind.Stem, "stem", "stems"), Count(PlannedKind.GuideMix, "guide mix", "guide mixes"), Count(PlannedKind.Click, "click", "clicks"),
        Count(PlannedKind.ClipFile, "file of clips", "files of clips"), Count(PlannedKind.ClipMedia, "medium of clips", "media of clips"), Count(PlannedKind.Midi, "MIDI file", "MIDI files"), Count(PlannedKind.Picture, "picture", "pictures"),
    }.OfType<string>());

    /// <param name="check">What its files are.</param>
    /// <param name="items">Everything that was brought in.</param>
    /// <param name="known">Keys that are known here.</param>
    /// <param name="sent">SHA-256 of the manifests of packages that went from this transfer.</param>
    public static IncomingView Of(IncomingCheck check, IReadOnlyList<IntakeItem> items, IReadOnlyDictionary<PublicKey, string> known, IReadOnlySet<string> sent)
    {
        var whose = check.Package.Key is { } key ? known.GetValueOrDefault(new PublicKey(Convert.FromHexString(key))) : null;
        var files = items.Where(i => i.IsSound && check.Package.FileOf(i.Name) is { Kind: PlannedKind.FromZero }).Select(i => (i.Name, i.Sound!.Frames, i.Sound.TimeReference, i.Sound.SampleRate)).ToList();
        var lengths = files.GroupBy(f => (f.Frames, f.TimeReference, f.SampleRate)).OrderByDescending(g => g.Count()).ToList();
        var words = files.Count == 0 ? string.Empty
            : lengths.Count == 1 ? $"all {Phrases.Count(files.Count, "file")} from zero are {Digits.Grouped(files[0].Frames)} samples long{(files[0].TimeReference is { } stamp ? $" and stamped {Digits.Grouped(stamp)}" : string.Empty)}"
            : $"{Digits.Grouped(files.Count - lengths[0].Count())} of {Phrases.Count(files.Count, "file")} from zero begin elsewhere or are of another length than the others: {Some([.. lengths.Skip(1).SelectMany(g => g).Select(f => Path.GetFileName(f.Name))])}";
        return new IncomingView(check, whose, words, lengths.Count < 2, check.Package.ReplyTo is { } to && sent.Contains(to));
    }

    private string? Count(PlannedKind kind, string one, string many) => Check.Package.Files.Count(f => f.Kind == kind) is > 0 and var count ? $"{Digits.Grouped(count)} {(count == 1 ? one : many)}" : null;
}
