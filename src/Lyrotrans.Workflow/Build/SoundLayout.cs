using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Workflow.Build;

/// <summary>How a sound file of plain samples is laid out: what lies before its samples, the samples, and a byte that makes them even.</summary>
/// <param name="Head">What lies before the samples.</param>
/// <param name="Layout">The form of the samples.</param>
internal sealed record SoundLayout(byte[] Head, PcmLayout Layout)
{
    /// <summary>Of the whole file.</summary>
    public long FileBytes => Head.Length + Layout.DataBytes + (Layout.DataBytes & 1);

    /// <param name="plan">That the file is of.</param>
    /// <param name="file">A sound file, in WAV or AIFF.</param>
    /// <param name="stamp">The date in it.</param>
    public static SoundLayout Of(DeliveryPlan plan, PlannedFile file, DateTimeOffset stamp)
    {
        var aiff = file.Made.Container == SoundContainer.Aiff;
        var layout = new PcmLayout(file.Made.Encoding, aiff, file.Channels, file.Made.Rate, 0, file.Frames);
        return new SoundLayout(aiff ? AiffWriter.Head(layout, TagsOf(plan, file)) : WaveHead(plan, file, layout, stamp), layout);
    }

    private static byte[] WaveHead(DeliveryPlan plan, PlannedFile file, PcmLayout layout, DateTimeOffset stamp)
    {
        var (name, reference) = (NameOf(plan, file), PackageBuilder.TimeReference(plan, file));
        var broadcast = new BroadcastExtension(
            $"{plan.Session.Name}: {name}", "Lyrotrans", reference, stamp.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), stamp.ToString("HH:mm:ss", CultureInfo.InvariantCulture));
        var texts = new WaveTexts(plan.Session.Name, name, WaveTexts.ChannelNames(name, file.Channels), plan.Session.FrameRate, reference);
        return WaveWriter.Head(layout, broadcast, [], texts.Ixml(layout), texts.Info(), TagsOf(plan, file));
    }

    private static ValueArray<KeyValuePair<string, string>> TagsOf(DeliveryPlan plan, PlannedFile file) => SoundTags.Of(plan, file) is var tags ? TagTexts.Of(tags.WholeTempo, tags.Key) : [];

    private static Track TrackOf(DeliveryPlan plan, PlannedFile file) => plan.Session.Tracks.First(t => t.Id == file.TrackId);

    private static string NameOf(DeliveryPlan plan, PlannedFile file) => file.Kind switch
    {
        PlannedKind.SameSound => NameOf(plan, plan.Files.First(f => f.Path == file.Of)),
        PlannedKind.FinishedMix => $"finished mix{Side(plan, file)}",
        PlannedKind.Click => "Click",
        PlannedKind.GuideMix => $"guide mix{Side(plan, file)}",
        PlannedKind.Stem => $"stem {file.Group}{Side(plan, file)}",
        _ when file.Channel is { } channel && file.TrackId is not null => WaveTexts.ChannelNames(TrackOf(plan, file).Name, DeliveryPlan.ChannelsOf(TrackOf(plan, file), plan.Preparation.Tracks.First(c => c.TrackId == file.TrackId), TrackRoles.Of(plan.Session)))[channel],
        _ => TrackOf(plan, file).Name,
    };

    // Which channel of a mix a file has, where each has one.
    private static string Side(DeliveryPlan plan, PlannedFile file) =>
        file.Channel is { } channel ? $" {KindForms.ChannelName(channel, plan.Files.Count(f => f.Kind == file.Kind && f.Group == file.Group))}" : string.Empty;
}
