using Lyrotrans.Formats.Edits;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.Aaf.Writing;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Build;

/// <summary>The file of clips that a plan means, and its media.</summary>
public static class ClipsFile
{
    /// <summary>The name of the comment that says by which choices a file was made, so that a proof can follow them.</summary>
    public const string ChoicesComment = "Lyrotrans choices";

    public static AafForm FormOf(DeliveryPlan plan) => new()
    {
        SectorBytes = plan.Preparation.Clips.SmallSectors ? 512 : 4096,
        EditRate = plan.Preparation.Clips.FrameUnits ? plan.Session.FrameRate.PerSecond : null,
        Comments = new Dictionary<string, string> { [ChoicesComment] = ReceiverChoices.OfClips(plan.Preparation) },
        FadesAsProperties = plan.Preparation.Clips.Fades == FadeForm.Properties,
    };

    /// <param name="plan">With clips.</param>
    /// <param name="opener">Opens the session's media.</param>
    /// <param name="files">Where they lie.</param>
    /// <param name="output">Written front to back.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static void Write(DeliveryPlan plan, IMediaOpener opener, IMediaFiles files, Stream output, CancellationToken stop)
    {
        var essence = plan.Clips!.Media.ToDictionary(m => m.Media.Id, m => Essence(plan, m, opener, files, stop));
        AafWriter.Write(plan.Clips.Session, essence, FormOf(plan), output);
    }

    /// <summary>One medium of the plan, by its identifier there.</summary>
    public static ClipSound Sound(DeliveryPlan plan, string mediaId, IMediaOpener opener, IMediaFiles files, CancellationToken stop) =>
        new(plan, plan.Clips!.Media.First(m => m.Media.Id == mediaId), opener, files, stop);

    private static EditEssence Essence(DeliveryPlan plan, ClipMedia medium, IMediaOpener opener, IMediaFiles files, CancellationToken stop)
    {
        var form = plan.Preparation.Clips.Media;
        var sound = new ClipSound(plan, medium, opener, files, stop);
        var beside = form is ClipMediaForm.BesideWave or ClipMediaForm.BesideAiff;
        return new EditEssence
        {
            MediaId = medium.Media.Id,
            FileName = medium.Media.FileName,
            Layout = sound.Layout,
            Head = sound.Head,
            IsAiff = form == ClipMediaForm.BesideAiff,
            IsPlainSamples = form == ClipMediaForm.InsideSamples,
            BesidePath = medium.IsMissing ? medium.Media.FileName : beside ? $"media/{medium.Media.FileName}" : null,
            Bytes = medium.IsMissing ? 0 : sound.Bytes,
            Write = sound.Write,
            Identity = medium.Media.Id,
        };
    }
}
