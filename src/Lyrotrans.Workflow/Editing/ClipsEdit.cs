using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.Registry;

namespace Lyrotrans.Workflow.Editing;

/// <summary>How the file of clips goes, as it was chosen.</summary>
public sealed record ClipsEdit
{
    /// <summary>The identifier of the format.</summary>
    public string File { get; init; } = string.Empty;

    /// <summary>Where the sound lies and as what.</summary>
    public ClipMediaForm Media { get; init; }

    /// <summary>Of the sound, in bits.</summary>
    public ClipDepth Depth { get; init; }

    /// <summary>Whether media are cut to what clips use and their handles.</summary>
    public bool Trimmed { get; init; }

    /// <summary>Sound around each clip, in <see cref="HandleUnit"/>; none keeps what it was.</summary>
    public string? Handle { get; init; }

    /// <summary>What a handle is counted in.</summary>
    public HandleUnit HandleUnit { get; init; }

    /// <summary>Whether stereo tracks are split.</summary>
    public bool MonoOnly { get; init; }

    /// <summary>Whether gain is rendered into the sound.</summary>
    public bool RenderGain { get; init; }

    /// <summary>How fades go.</summary>
    public FadeForm Fades { get; init; }

    /// <summary>How volume automation goes.</summary>
    public VolumeForm Volume { get; init; }

    /// <summary>How pan goes.</summary>
    public PanForm Pan { get; init; }

    /// <summary>Whether places are whole frames, and not samples.</summary>
    public bool FrameUnits { get; init; }

    /// <summary>What the format that was shown lets choose, by the identifiers of option and value.</summary>
    public Dictionary<string, string> Options { get; init; } = [];

    /// <summary>The preparation with these choices. A field that is not shown keeps what it had.</summary>
    public Edit<Preparation> Apply(Preparation preparation)
    {
        var before = preparation.Clips;
        var format = SessionFormats.OfClips.FirstOrDefault(f => f.Id == File)?.Clips;
        if (format is null || !Enum.IsDefined(Depth) || !Enum.IsDefined(Media) || !Enum.IsDefined(HandleUnit) || !Enum.IsDefined(Fades) || !Enum.IsDefined(Volume) || !Enum.IsDefined(Pan))
        {
            return new Refused("There is no such choice.");
        }

        var handle = before.Handle;
        if (Handle is not null && (!long.TryParse(Handle.Replace(" ", string.Empty, StringComparison.Ordinal), out handle) || handle is < 0 or > ClipChoices.LongestHandle))
        {
            return new Refused($"\"{Handle}\" is no handle; it is a whole number of milliseconds, frames or samples.");
        }

        if (Chosen(before) is not { } options)
        {
            return new Refused("There is no such choice.");
        }

        var after = new ClipChoices(format)
        {
            Options = options,
            Media = Media,
            Depth = Depth,
            Trimmed = Trimmed,
            Handle = handle,
            HandleUnit = Handle is null ? before.HandleUnit : HandleUnit,
            MonoOnly = MonoOnly,
            RenderGain = RenderGain,
            Fades = Fades,
            Volume = Volume,
            Pan = Pan,
            FrameUnits = FrameUnits,
        };
        return new Edit<Preparation>(preparation with { Clips = after }, Words(before, after), null);
    }

    private static string Words(ClipChoices before, ClipChoices after) => "clips: " + string.Join(", ", ((string?[])
    [
        before.Format == after.Format ? null : after.Format.Id,
        Choices.ClipDepths.Changed(before.Depth, after.Depth),
        .. after.Format.Options.Where(o => before.Options[o] != after.Options[o]).Select(o => $"{o.Name} {o.Find(after.Options[o])!.Words}"),
        Choices.ClipMedia.Changed(before.Media, after.Media),
        before.Trimmed == after.Trimmed ? null : after.Trimmed ? "media trimmed" : "whole media",
        before.Handle == after.Handle && before.HandleUnit == after.HandleUnit ? null : $"handles of {after.Handle} {Choices.HandleUnits[after.HandleUnit].Words}",
        before.MonoOnly == after.MonoOnly ? null : after.MonoOnly ? "mono tracks only" : "stereo kept",
        before.RenderGain == after.RenderGain ? null : after.RenderGain ? "gain in the media" : "gain as gain",
        Choices.Fades.Changed(before.Fades, after.Fades),
        Choices.Volumes.Changed(before.Volume, after.Volume),
        Choices.Pans.Changed(before.Pan, after.Pan),
        before.FrameUnits == after.FrameUnits ? null : after.FrameUnits ? "places in frames" : "places in samples",
    ]).OfType<string>());

    /// <summary>The options as they were, with those that the form shows; null where it says a value that there is not.</summary>
    private FormatChoices? Chosen(ClipChoices before)
    {
        var chosen = before.Options;
        foreach (var (id, value) in Options)
        {
            if (before.Format.Options.FirstOrDefault(o => o.Id == id) is not { } option || option.Find(value) is null)
            {
                return null;
            }

            chosen = chosen.With(option, value);
        }

        return chosen;
    }
}
