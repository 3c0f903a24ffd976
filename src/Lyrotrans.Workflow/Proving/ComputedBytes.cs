using Lyrotrans.Audio.Render;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Build.Prints;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Which bytes of a file another machine may have made otherwise: samples that were computed, and what a library coded. All others are the same everywhere.</summary>
internal static class ComputedBytes
{
    private static readonly (long From, long To) s_all = (0, long.MaxValue);

    /// <summary>From the first to one past the last; null where there are none.</summary>
    public static (long From, long To)? Of(DeliveryPlan plan, PlannedFile file, Printing printing, DateTimeOffset stamp) => file.Kind switch
    {
        PlannedKind.SameSound => SameSound(plan, file, plan.Files.First(f => f.Path == file.Of), printing, stamp),
        PlannedKind.ListeningCopy or PlannedKind.LevelTable or PlannedKind.Picture => s_all,
        PlannedKind.ClipFile when plan.ClipFiles[file.Part].Media.Any(m => IsComputed(plan, m)) && !plan.Preparation.Clips.MediaForm.IsBeside() => s_all,
        PlannedKind.ClipMedia when IsComputed(plan, plan.Clips!.Media.First(m => m.Media.Id == file.MediaId)) => s_all,
        _ when !file.IsSound => null,
        _ when file.Made.Container == SoundContainer.Flac => s_all,
        PlannedKind.FromZero when !printing.RuleOf(file).NeedsArithmetic && plan.Preparation.Overs != OversPolicy.Lower => null,
        _ => SoundLayout.Of(plan, file, stamp) is var sound ? (sound.Head.Length, sound.Head.Length + sound.Layout.DataBytes) : null,
    };

    // As its first file; FLAC is coded whatever that is.
    private static (long From, long To)? SameSound(DeliveryPlan plan, PlannedFile file, PlannedFile first, Printing printing, DateTimeOffset stamp) =>
        file.Made.Container != SoundContainer.Flac && Of(plan, first with { Form = file.Form }, printing, stamp) is null ? null
        : file.Made.Container == SoundContainer.Flac ? s_all
        : SoundLayout.Of(plan, file, stamp) is var sound ? (sound.Head.Length, sound.Head.Length + sound.Layout.DataBytes) : null;

    private static bool IsComputed(DeliveryPlan plan, ClipMedia medium) =>
        !medium.IsMissing && (medium.IsMade || TrackRender.NeedsArithmetic(plan.ClipSession, medium.Sound) || TrackRender.Precision(plan.ClipSession, medium.Sound) > medium.Media.Encoding.Precision());
}
