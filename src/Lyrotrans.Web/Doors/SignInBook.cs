using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Doors;

/// <summary>A person's sign-ins.</summary>
public sealed class SignInBook(LyroContext database, TimeProvider clock)
{
    /// <summary>Those that hold, the newest first; those that do not any more are forgotten.</summary>
    public async Task<IReadOnlyList<SignIn>> OfAsync(Guid account, CancellationToken stop)
    {
        var all = await database.SignIns.AsNoTracking().Where(s => s.AccountId == account).OrderByDescending(s => s.SeenAt).ToListAsync(stop);
        var over = all.Where(s => !SignInLimits.Holds(s, clock.GetUtcNow())).Select(s => s.Id).ToList();
        await database.SignIns.Where(s => over.Contains(s.Id)).ExecuteDeleteAsync(stop);
        return [.. all.Where(s => !over.Contains(s.Id))];
    }

    /// <summary>Ends one of a person's sign-ins.</summary>
    public Task<int> EndAsync(Guid account, Guid signIn, CancellationToken stop) => database.SignIns.Where(s => s.AccountId == account && s.Id == signIn).ExecuteDeleteAsync(stop);

    /// <summary>Ends all of a person's sign-ins but one; all where none is to stay.</summary>
    public Task<int> EndOthersAsync(Guid account, Guid? but, CancellationToken stop) => database.SignIns.Where(s => s.AccountId == account && s.Id != but).ExecuteDeleteAsync(stop);
}
