using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Mail;
using Microsoft.AspNetCore.Mvc;
using MimeKit;

namespace Lyrotrans.Web.Pages;

/// <summary>The outbox, for operators with a second factor. Letters hold links that set passwords, so nothing less opens it.</summary>
public sealed class OperatorModel(DeskLoader desks, RoomAccess access, Settings settings, Outbox outbox) : PersonPage(desks, access)
{
    /// <summary>So many letters are shown.</summary>
    public const int Most = 100;

    public bool HasServer => settings.MailServer is not null;

    /// <summary>What the operator has to do first; null where nothing.</summary>
    public string? Missing { get; private set; }

    public IReadOnlyList<MimeMessage> Letters { get; private set; } = [];

    public IActionResult OnGet()
    {
        if (!settings.Operators.Contains(Engineer.Email, StringComparer.OrdinalIgnoreCase))
        {
            return NotFound();
        }

        // Anyone can open a room under any address; only who read a letter has it.
        Missing = !Engineer.EmailConfirmed ? "Your address is not confirmed. Ask for a new password and follow the link in the letter; without a mail server it lies in the folder outbox of the data folder."
            : !Engineer.TwoFactorEnabled ? "Turn on your second factor first, under your name above."
            : null;
        Letters = Missing is null ? outbox.Newest(Most) : [];
        return Page();
    }
}
