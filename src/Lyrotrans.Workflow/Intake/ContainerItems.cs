using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Audio.Containers;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Containers;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Items of files with picture and sound, and of the sound that is taken out of them.</summary>
public static class ContainerItems
{
    /// <summary>Opens a file that may hold sound.</summary>
    /// <returns>The file, to be closed, and its item as it is known then; no file where its sound cannot be had.</returns>
    public static (ContainerFile? File, IntakeItem Item) Open(IntakeItem item, IStoredFile file)
    {
        try
        {
            var container = ContainerFile.Open(file, item.Name);
            if (container.Facts.Picture is not null || container.Facts.Streams.Count > 0)
            {
                return (container, Described(item, container.Facts));
            }

            container.Dispose();
            return (null, item with { Error = new Finding(ContainerCodes.Nothing, string.Empty, $"{item.Name}: It holds no picture and no sound. Ask what it should hold.") });
        }
        catch (BadInputException problem)
        {
            return (null, Without(item, problem.Finding));
        }
    }

    /// <summary>A picture whose sound cannot be had is a picture still; a file without one is a bad one.</summary>
    public static IntakeItem Without(IntakeItem item, Finding problem) =>
        item.Kind == ContentKind.Picture ? item with { Findings = [.. item.Findings, problem] } : item with { Error = problem };

    /// <summary>What a sound that is taken out is called.</summary>
    public static string NameOf(ContainerFile file, ContainerSound sound) => EmbeddedMedia.NameOf(file.Name, null, file.NameOf(sound));

    /// <summary>A sound that was taken out, with what only the file that held it knows.</summary>
    /// <param name="examined">The sound as a file of its own.</param>
    /// <param name="file">What held it.</param>
    /// <param name="findings">What was met when it was taken out.</param>
    public static IntakeItem Taken(IntakeItem examined, ContainerFile file, IReadOnlyList<Finding> findings) => examined with
    {
        TakenFrom = file.Name,
        Sound = examined.Sound is { } sound ? sound with { Umid = file.Facts.Umid } : null,
        Findings = [.. examined.Findings, .. findings],
    };

    private static IntakeItem Described(IntakeItem item, ContainerFacts facts) => item with
    {
        Kind = facts.Picture is not null ? ContentKind.Picture : ContentKind.Container,
        PictureRate = facts.Picture?.FramesPerSecond?.ToString(),
        PictureSeconds = facts.Picture?.Seconds?.ToString(),
        PictureStart = facts.StartSeconds?.ToString(),
        Placement = facts.Picture is not null ? new() : item.Placement,
        Brings =
        [
            .. facts.Picture is { } picture ? [$"a reference picture: {picture.Words}"] : Array.Empty<string>(),
            .. facts.Streams.Count > 0 ? [$"{Phrases.Count(facts.Streams.Sum(s => s.Channels), "channel")} of sound in {Phrases.Count(facts.Streams.Count, "stream")}, taken out"] : Array.Empty<string>(),
        ],
    };
}
