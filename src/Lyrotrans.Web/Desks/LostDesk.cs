using Lyrotrans.Workflow.Placing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Web.Desks;

/// <summary>Where files whose place was lost lie; looked for once for each session, one search at a time on this machine: each takes all of it.</summary>
public sealed class LostDesk(DocumentCache cache)
{
    private static readonly SemaphoreSlim s_one = new(1);

    /// <summary>The files of a desk whose place was lost.</summary>
    public static LostFiles Of(Desk desk) => LostFiles.Of(desk.Session, desk.Intake.Items);

    /// <summary>Looks for all of them, or says what was found before.</summary>
    public async Task<IReadOnlyList<FoundFile>> FindAsync(Desk desk, CancellationToken stop)
    {
        if (desk.Revision is not { } revision)
        {
            return [];
        }

        await s_one.WaitAsync(stop);
        try
        {
            return await Task.Run(() => cache.Get(desk.Room.Id, $"{revision.SessionSha} {revision.IntakeSha} lost", () => Of(desk).Find(new StoredMedia(desk.Media), stop)), stop);
        }
        finally
        {
            s_one.Release();
        }
    }
}
