using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Storing;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Placing;

/// <summary>Finds where sound files lie in another, by their sound alone.</summary>
/// <remarks>docs/decisions/0031-sounds-are-found-by-their-phases.md.</remarks>
public static class SoundPlaces
{
    /// <summary>Where each lies, in their order. One that cannot be read has its problem; the others are found.</summary>
    /// <param name="reference">A mix, a guide or a track, and its name.</param>
    /// <param name="sounds">Files that begin anywhere in it, and their names.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Heeded all along.</param>
    /// <exception cref="BadInputException">The reference cannot be read.</exception>
    public static IReadOnlyList<FoundPlace> Find((IStoredFile File, string Name) reference, IReadOnlyList<(IStoredFile File, string Name)> sounds, Action<WorkProgress> report, CancellationToken stop)
    {
        var rate = Facts(reference).SampleRate;
        if (!SignalFinder.CanFind(rate, rate))
        {
            throw TooFar(reference.Name, rate, $"from the {Digits.Grouped(SignalFinder.Hz)} Hz that sound is looked through at");
        }

        var problems = sounds.Select(s => Problem(s, rate)).ToList();
        var good = sounds.Where((_, i) => problems[i] is null).Select(s => (Func<ISampleSource>)(() => Open(s))).ToList();
        var found = new Queue<SignalPlace?>(new SignalFinder(() => Open(reference)).Find(good, f => report(new WorkProgress(f, $"looking through {reference.Name}")), stop));
        return [.. sounds.Zip(problems, (s, p) => new FoundPlace(s.Name, p is null ? found.Dequeue() : null, p?.Finding))];
    }

    private static BadInputException? Problem((IStoredFile File, string Name) sound, SampleRate reference)
    {
        try
        {
            var rate = Facts(sound).SampleRate;
            return SignalFinder.CanFind(rate, reference) ? null : TooFar(sound.Name, rate, $"from the {Digits.Grouped(reference.HeaderHz)} Hz of what it is looked for in");
        }
        catch (BadInputException problem)
        {
            return problem;
        }
    }

    private static BadInputException TooFar(string name, SampleRate rate, string from) =>
        new(SoundFileCodes.RateTooFar, name, string.Empty, $"Its rate of {Digits.Grouped(rate.HeaderHz)} Hz is too far {from}.", "Convert it first.");

    private static SoundFileFacts Facts((IStoredFile File, string Name) sound)
    {
        using var file = SoundFile.Open(sound.File, sound.Name);
        var facts = file.Facts;
        return facts.SampleRate.SecondsOf(facts.Frames) <= SignalFinder.MostSeconds ? facts : throw new BadInputException(
            FileCodes.TooLarge, sound.Name, string.Empty, $"It is longer than {SignalFinder.MostSeconds / 3600} hours, and is not looked through.", "Cut it first.");
    }

    // The source closes its file.
    private static ISampleSource Open((IStoredFile File, string Name) sound) => SoundFile.Open(sound.File, sound.Name).Source;
}
