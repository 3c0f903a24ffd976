using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>How the file of clips goes, as it was chosen.</summary>
public sealed record ClipsForm
{
    public ClipFileForm File { get; init; }

    public ClipMediaForm Media { get; init; }

    public ClipDepth Depth { get; init; }

    public bool Trimmed { get; init; }

    public string? Handle { get; init; }

    public HandleUnit HandleUnit { get; init; }

    public bool MonoOnly { get; init; }

    public bool RenderGain { get; init; }

    public FadeForm Fades { get; init; }

    public VolumeForm Volume { get; init; }

    public PanForm Pan { get; init; }

    public bool SmallSectors { get; init; }

    public bool FrameUnits { get; init; }

    public OmfLimit Limit { get; init; }

    public bool SplitByTracks { get; init; }

    /// <summary>The choices; or what is wrong with them.</summary>
    public (ClipChoices? Choices, string? Problem) Read(ClipChoices before)
    {
        if (!Enum.IsDefined(File) || !Enum.IsDefined(Depth) || !Enum.IsDefined(Limit) || !Enum.IsDefined(Media) || !Enum.IsDefined(HandleUnit) || !Enum.IsDefined(Fades) || !Enum.IsDefined(Volume) || !Enum.IsDefined(Pan))
        {
            return (null, "There is no such choice.");
        }

        // A field that is not shown keeps what it had.
        var handle = before.Handle;
        if (Handle is not null && (!long.TryParse(Handle.Replace(" ", string.Empty, StringComparison.Ordinal), out handle) || handle is < 0 or > ClipChoices.LongestHandle))
        {
            return (null, $"\"{Handle}\" is no handle; it is a whole number of milliseconds, frames or samples.");
        }

        return (new ClipChoices
        {
            File = File,
            Media = Media,
            Depth = Depth,
            Limit = before.File == ClipFileForm.Omf ? Limit : before.Limit,
            SplitByTracks = before.File == ClipFileForm.Omf ? SplitByTracks : before.SplitByTracks,
            Trimmed = Trimmed,
            Handle = handle,
            HandleUnit = Handle is null ? before.HandleUnit : HandleUnit,
            MonoOnly = MonoOnly,
            RenderGain = RenderGain,
            Fades = Fades,
            Volume = Volume,
            Pan = Pan,
            SmallSectors = before.File == ClipFileForm.Aaf ? SmallSectors : before.SmallSectors,
            FrameUnits = FrameUnits,
        }, null);
    }

    /// <summary>What changed, for the revision list.</summary>
    public static string Words(ClipChoices before, ClipChoices after) => "clips: " + string.Join(", ", new[]
    {
        before.File == after.File ? null : Core.Delivering.CarryPlan.FormName(after.File),
        before.Depth == after.Depth ? null : Words(after.Depth),
        before.Limit == after.Limit ? null : $"at most {(after.Limit == OmfLimit.TwoGiB ? 2 : 4)} GiB",
        before.SplitByTracks == after.SplitByTracks ? null : after.SplitByTracks ? "several files where one is too large" : "one file",
        before.Media == after.Media ? null : Words(after.Media),
        before.Trimmed == after.Trimmed ? null : after.Trimmed ? "media trimmed" : "whole media",
        before.Handle == after.Handle && before.HandleUnit == after.HandleUnit ? null : $"handles of {after.Handle} {Words(after.HandleUnit)}",
        before.MonoOnly == after.MonoOnly ? null : after.MonoOnly ? "mono tracks only" : "stereo kept",
        before.RenderGain == after.RenderGain ? null : after.RenderGain ? "gain in the media" : "gain as gain",
        before.Fades == after.Fades ? null : $"fades {(after.Fades == FadeForm.Transitions ? "as transitions" : after.Fades == FadeForm.Properties ? "as properties" : "in the media")}",
        before.Volume == after.Volume ? null : $"volume {(after.Volume == VolumeForm.Kept ? "as automation" : after.Volume == VolumeForm.Rendered ? "in the media" : "left out")}",
        before.Pan == after.Pan ? null : $"pan {(after.Pan == PanForm.Kept ? "as a parameter" : after.Pan == PanForm.Split ? "as a left and a right track" : "left out")}",
        before.SmallSectors == after.SmallSectors ? null : after.SmallSectors ? "sectors of 512 bytes" : "sectors of 4096 bytes",
        before.FrameUnits == after.FrameUnits ? null : after.FrameUnits ? "places in frames" : "places in samples",
    }.OfType<string>());

    public static string Words(ClipMediaForm form) => form switch
    {
        ClipMediaForm.InsideWave => "media inside, as WAVE",
        ClipMediaForm.InsideAiff => "media inside, as AIFF",
        ClipMediaForm.InsideSamples => "media inside, as plain samples",
        ClipMediaForm.BesideWave => "media beside it, as WAV",
        _ => "media beside it, as AIFF",
    };

    public static string Words(ClipDepth depth) => depth switch { ClipDepth.Integer16 => "16 bits", ClipDepth.Integer24 => "24 bits", _ => "their own bits" };

    /// <summary>The places of sound that a format has.</summary>
    public static IEnumerable<ClipMediaForm> FormsOf(ClipFileForm file) => Enum.GetValues<ClipMediaForm>().Where(f => new ClipChoices { File = file, Media = f }.MediaForm == f);

    public static string Words(HandleUnit unit) => unit switch { HandleUnit.Milliseconds => "ms", HandleUnit.Frames => "frames", _ => "samples" };
}
