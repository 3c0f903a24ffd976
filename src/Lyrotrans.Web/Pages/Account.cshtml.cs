using System.Globalization;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Doors;
using Lyrotrans.Web.Mail;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;

namespace Lyrotrans.Web.Pages;

/// <summary>A person's own password, second factor and sign-ins. Whatever opens doors is changed only with the password, and ends the other sign-ins.</summary>
public sealed class AccountModel(
    DeskLoader desks, RoomAccess access, UserManager<Account> accounts, Entry entry, SignInBook signIns, RoomLog log, Letters letters, Later later) : PersonPage(desks, access)
{
    private const int RecoveryCodes = 10;

    public IReadOnlyList<SignIn> SignIns { get; private set; } = [];

    /// <summary>The sign-in that asks.</summary>
    public Guid? Here => SignInCookie.IdOf(User);

    /// <summary>Recovery codes that were made just now.</summary>
    public IReadOnlyList<string>? Codes { get; private set; }

    public int CodesLeft { get; private set; }

    /// <summary>While a second factor is set up.</summary>
    public Pairing? Pairing { get; private set; }

    [TempData]
    public string? Notice { get; set; }

    /// <summary>A browser as people call it, by what it says of itself; several say that they are others as well, so the order counts.</summary>
    public static string Browser(string agent)
    {
        var name = new[] { ("Edg/", "Edge"), ("Firefox/", "Firefox"), ("Chrome/", "Chrome"), ("Safari/", "Safari") }.FirstOrDefault(b => agent.Contains(b.Item1, StringComparison.Ordinal)).Item2;
        var system = new[] { ("Android", "Android"), ("iPhone", "iPhone"), ("iPad", "iPad"), ("Mac OS", "Mac"), ("Windows", "Windows"), ("Linux", "Linux") }.FirstOrDefault(b => agent.Contains(b.Item1, StringComparison.Ordinal)).Item2;
        return name is null || system is null ? agent : $"{name} on {system}";
    }

    public static string Time(DateTimeOffset time) => time.ToString("d MMM HH:mm", CultureInfo.InvariantCulture);

    public async Task OnGetAsync(CancellationToken stop)
    {
        SignIns = await signIns.OfAsync(Engineer.Id, stop);
        CodesLeft = Engineer.TwoFactorEnabled ? await accounts.CountRecoveryCodesAsync(Engineer) : 0;
    }

    public async Task<IActionResult> OnPostEndAsync(Guid signIn, CancellationToken stop)
    {
        if (await signIns.EndAsync(Engineer.Id, signIn, stop) > 0)
        {
            await log.NoteAsync(Engineer, RoomEventKind.SignedOut, "a sign-in from elsewhere was ended");
        }

        return Done("That sign-in has ended.");
    }

    public async Task<IActionResult> OnPostEndOthersAsync(CancellationToken stop)
    {
        await signIns.EndOthersAsync(Engineer.Id, Here, stop);
        await log.NoteAsync(Engineer, RoomEventKind.SignedOut, "every other sign-in was ended");
        return Done("Every other sign-in has ended.");
    }

    public async Task<IActionResult> OnPostPasswordAsync(string? current, string? fresh, CancellationToken stop) =>
        await WithPasswordAsync(current, () => PasswordAsync(current!, fresh ?? string.Empty, stop), stop);

    public async Task<IActionResult> OnPostBeginFactorAsync(string? current, CancellationToken stop) =>
        await WithPasswordAsync(current, () => Engineer.TwoFactorEnabled ? Task.FromResult<IActionResult>(RedirectToPage()) : BeginFactorAsync(stop), stop);

    public async Task<IActionResult> OnPostConfirmFactorAsync(string? code, CancellationToken stop)
    {
        if (Engineer.TwoFactorEnabled || await accounts.GetAuthenticatorKeyAsync(Engineer) is null)
        {
            return RedirectToPage();
        }

        if (!await accounts.VerifyTwoFactorTokenAsync(Engineer, TokenOptions.DefaultAuthenticatorProvider, (code ?? string.Empty).Replace(" ", string.Empty, StringComparison.Ordinal)))
        {
            ModelState.AddModelError(string.Empty, "The code is wrong. Type the one that is shown now; the phone's clock must be right.");
            return await PairAsync(stop);
        }

        await accounts.SetTwoFactorEnabledAsync(Engineer, true);
        return await CodesAsync("second factor was turned on", stop);
    }

    public async Task<IActionResult> OnPostCodesAsync(string? current, CancellationToken stop) =>
        await WithPasswordAsync(current, () => Engineer.TwoFactorEnabled ? CodesAsync("new recovery codes", stop) : Task.FromResult<IActionResult>(RedirectToPage()), stop);

    public async Task<IActionResult> OnPostFactorOffAsync(string? current, CancellationToken stop) => await WithPasswordAsync(current, () => FactorOffAsync(stop), stop);

    private async Task<IActionResult> PasswordAsync(string current, string fresh, CancellationToken stop)
    {
        var changed = await accounts.ChangePasswordAsync(Engineer, current, fresh);
        return changed.Succeeded ? await ChangedAsync("password", stop) : await WrongAsync(string.Join(" ", changed.Errors.Select(e => e.Description)), stop);
    }

    private async Task<IActionResult> BeginFactorAsync(CancellationToken stop)
    {
        await accounts.ResetAuthenticatorKeyAsync(Engineer);
        return await PairAsync(stop);
    }

    private async Task<IActionResult> FactorOffAsync(CancellationToken stop)
    {
        await accounts.SetTwoFactorEnabledAsync(Engineer, false);
        await accounts.ResetAuthenticatorKeyAsync(Engineer);
        return await ChangedAsync("second factor", stop);
    }

    private RedirectToPageResult Done(string words)
    {
        Notice = words;
        return RedirectToPage();
    }

    private async Task<IActionResult> WithPasswordAsync(string? current, Func<Task<IActionResult>> change, CancellationToken stop)
    {
        var knows = await entry.KnowsPasswordAsync(Engineer, current ?? string.Empty);
        return knows == EntryResult.In ? await change() : await WrongAsync(Entry.Words(knows, "The password is wrong."), stop);
    }

    private async Task<IActionResult> WrongAsync(string words, CancellationToken stop)
    {
        ModelState.AddModelError(string.Empty, words);
        await OnGetAsync(stop);
        return Page();
    }

    private async Task<IActionResult> ChangedAsync(string what, CancellationToken stop)
    {
        await signIns.EndOthersAsync(Engineer.Id, Here, stop);
        await log.NoteAsync(Engineer, RoomEventKind.Changed, $"{what}; every other sign-in was ended");
        var person = Engineer;
        later.Do(_ => letters.ChangedAsync(person, what));
        return Done($"Your {what} was changed, and every other sign-in has ended.");
    }

    private async Task<IActionResult> PairAsync(CancellationToken stop)
    {
        Pairing = Pairing.Of((await accounts.GetAuthenticatorKeyAsync(Engineer))!, Engineer.Email!);
        await OnGetAsync(stop);
        return Page();
    }

    private async Task<IActionResult> CodesAsync(string what, CancellationToken stop)
    {
        Codes = [.. (await accounts.GenerateNewTwoFactorRecoveryCodesAsync(Engineer, RecoveryCodes))!];
        await signIns.EndOthersAsync(Engineer.Id, Here, stop);
        await log.NoteAsync(Engineer, RoomEventKind.Changed, what);
        await OnGetAsync(stop);
        return Page();
    }
}
