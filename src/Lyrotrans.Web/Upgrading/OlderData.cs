using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Upgrading;
using Lyrotrans.Workflow.Intake;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Upgrading;

/// <summary>Brings a database and the documents that it refers to up to date, before anybody is let in.</summary>
public static class OlderData
{
    public static async Task UpgradeAsync(IServiceProvider services, CancellationToken stop)
    {
        var database = services.GetRequiredService<LyroContext>().Database;
        if (await database.CanConnectAsync(stop) && (await database.GetAppliedMigrationsAsync(stop)).Except(database.GetMigrations()).LastOrDefault() is { } newer)
        {
            throw new InvalidOperationException($"The database was brought up to {newer} by a newer version of this program. Update the program; nothing was changed.");
        }

        await database.MigrateAsync(stop);
        await services.GetRequiredService<RoomMediaStep>().RunAsync(
            bytes =>
            {
                var state = IntakeState.FromJson(bytes);
                return (state.Items.Select(i => i.Sha256), state.ChannelEdits.SelectMany(e => e.Media).Select(m => m.Sha256));
            },
            bytes => SessionDocumentReader.Read(new MemoryStream(bytes), "the session").Media.Select(m => m.Sha256).OfType<string>(),
            stop);
    }
}
