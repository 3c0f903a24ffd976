using Lyrotrans.Audio.Render;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Build;

/// <summary>The file of clips that a plan means, or one of several, and its media.</summary>
public static class ClipsFile
{
    /// <summary>The name of the comment that says by which choices a file was made, so that a proof can follow them.</summary>
    public const string ChoicesComment = "Lyrotrans choices";

    /// <param name="plan">With clips.</param>
    /// <param name="part">Which of its files of clips, from 0.</param>
    /// <param name="opener">Opens the session's media.</param>
    /// <param name="files">Where they lie.</param>
    /// <param name="output">Written front to back.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static void Write(DeliveryPlan plan, int part, IMediaOpener opener, IMediaFiles files, Stream output, CancellationToken stop)
    {
        var clips = plan.ClipFiles[part];
        var essence = clips.Media.ToDictionary(m => m.Media.Id, m => Essence(plan, m, opener, files, stop));
        var choices = plan.Preparation.Clips;
        var comments = new Dictionary<string, string> { [ChoicesComment] = KeptChoices.OfClips(plan.Preparation) };
        SessionFormats.Get(choices.Format).Write(new ClipFile(clips.Session, essence, choices, comments), output);
    }

    /// <summary>One medium of the plan, by its identifier there.</summary>
    public static ClipSound Sound(DeliveryPlan plan, string mediaId, IMediaOpener opener, IMediaFiles files, CancellationToken stop) =>
        new(plan, plan.Clips!.Media.First(m => m.Media.Id == mediaId), opener, files, stop);

    // As the edit file finds it from where itself lies, at the root.
    private static string PathOf(DeliveryPlan plan, ClipMedia medium) => plan.Files.First(f => f.Kind == PlannedKind.ClipMedia && f.MediaId == medium.Media.Id).Path[(plan.Root.Length + 1)..];

    private static MediaEssence Essence(DeliveryPlan plan, ClipMedia medium, IMediaOpener opener, IMediaFiles files, CancellationToken stop)
    {
        var choices = plan.Preparation.Clips;
        var sound = new ClipSound(plan, medium, opener, files, stop);
        return new MediaEssence
        {
            MediaId = medium.Media.Id,
            FileName = medium.Media.FileName,
            Layout = sound.Layout,
            Head = sound.Head,
            IsAiff = choices.MediaForm.IsAiff(),
            IsPlainSamples = choices.MediaForm == ClipMediaForm.InsideSamples,
            IsMissing = medium.IsMissing,
            BesidePath = medium.IsMissing ? medium.Media.FileName : choices.MediaForm.IsBeside() ? PathOf(plan, medium) : null,
            Bytes = medium.IsMissing ? 0 : sound.Bytes,
            Write = sound.Write,
            Identity = medium.Media.Id,
        };
    }
}
