using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Core.Flags;

/// <summary>Where a session as it is prepared does not keep to what the receiver's sheet asks for.</summary>
/// <param name="facts">All that is known of it.</param>
internal sealed class SheetFlags(FlagFacts facts)
{
    public IEnumerable<Flag> All() => facts.Preparation.Sheet is { } sheet ? Files(sheet).Concat(Names(sheet)).Concat(Frames(sheet)) : [];

    private IEnumerable<Flag> Files(SheetTerms sheet) => facts.Files.Where(f => f.Bytes > sheet.LargestFile)
        .Select(f => new Flag(FlagKinds.LargeFile, $"{Leaf(f.Path)} is larger than {sheet.Name} takes", $"About {Digits.Bytes(f.Bytes)}; the largest is {Digits.Bytes(sheet.LargestFile!.Value)}", f.TrackId));

    private IEnumerable<Flag> Names(SheetTerms sheet)
    {
        foreach (var (track, name) in DeliveredNames.Of(facts.Session, facts.Preparation))
        {
            if (name.EnumerateRunes().Count() is var letters && letters > sheet.LongestName)
            {
                yield return new(FlagKinds.LongName, $"{name} is longer than {sheet.Name} takes", $"{letters} characters; the longest is {sheet.LongestName}", track);
            }

            if (SheetNames.Kept(name, sheet.Letters) != name)
            {
                yield return new(FlagKinds.OtherLetters, $"{name} has letters that {sheet.Name} does not take", $"It could be {SheetNames.Kept(name, sheet.Letters)}", track);
            }
        }
    }

    private IEnumerable<Flag> Frames(SheetTerms sheet)
    {
        if (sheet.FrameRate is { Length: > 0 } frames && frames != facts.Session.FrameRate.Name)
        {
            yield return new(FlagKinds.OtherFrames, $"{sheet.Name} works at {frames} frames a second, this session at {facts.Session.FrameRate.Name}", "Say at Intake which it is, or tell the receiver");
        }
    }

    private static string Leaf(string path) => path[(path.LastIndexOf('/') + 1)..];
}
