using Lyrotrans.Core.Clicking;
using Lyrotrans.Workflow.Sounds;
using Lyrotrans.Workflow.Tempos;

namespace Lyrotrans.Web.Desks;

/// <summary>The tempo map that a click of a desk says; read once for each session and choice, one at a time on this machine.</summary>
public sealed class TempoDesk(DocumentCache cache, DeskLoader desks)
{
    private static readonly SemaphoreSlim s_one = new(1);

    /// <summary>Null where the track is gone; a reading without a map where it is no click.</summary>
    public async Task<ClickReading?> ReadAsync(Desk desk, string track, ClickNote? note, int? countIn, CancellationToken stop)
    {
        if (desk.Revision is not { } revision || ClickTempos.Of(desk.Session, desk.Intake.Items).FirstOrDefault(t => t.Id == track) is not { } click)
        {
            return null;
        }

        await s_one.WaitAsync(stop);
        try
        {
            return await Task.Run(
                () => cache.Get(
                    desk.Room.Id, $"{revision.SessionSha} {revision.IntakeSha} map of {track} {note} {countIn}",
                    () => new ClickReading(click, note, countIn, ClickTempos.Read(desk.Session, click, note, countIn, new StoredMedia(desk.Media), desks.Sounds(desk), stop))),
                stop);
        }
        finally
        {
            s_one.Release();
        }
    }
}
