using Lyrotrans.Storage.Model;
using MimeKit;
using MimeKit.Utils;

namespace Lyrotrans.Web.Mail;

/// <summary>The letters that are sent, in words.</summary>
public sealed class Letters(IMailer mailer, Settings settings, TimeProvider clock)
{
    /// <summary>A link by which a person who forgot their password sets a new one.</summary>
    public Task ForgottenAsync(Account person, string token) => SendAsync(
        person,
        "A new password for Lyrotrans",
        $"""
        Somebody, most likely you, asked for a new password. Set it within an hour here:

        {new Uri(settings.PublicAddress, $"/new-password?account={person.Id}&token={Uri.EscapeDataString(token)}")}

        If it was not you, do nothing: your password stays as it is.
        """);

    /// <summary>A link by which a person opens the room that they asked for. Nothing of what they typed but the address: whoever gets it need not be who asked.</summary>
    public Task OpenAsync(string address, string token) => SendAsync(
        new MailboxAddress(string.Empty, address),
        "Open your room at Lyrotrans",
        $"""
        Somebody, most likely you, wants to open a room with this address. Open it within a day here:

        {new Uri(settings.PublicAddress, $"/open-a-room?link={Uri.EscapeDataString(token)}")}

        If it was not you, do nothing: no room is opened.
        """);

    /// <summary>That a person who wants to open a room has an account already.</summary>
    public Task HasAccountAsync(Account person) => SendAsync(
        person,
        "You have an account at Lyrotrans",
        $"""
        Somebody, most likely you, wanted to open a room with this address, which has an account already. Sign in with it, or set a new password:

        {new Uri(settings.PublicAddress, "/sign-in")}
        {new Uri(settings.PublicAddress, "/forgotten")}

        If it was not you, do nothing.
        """);

    /// <summary>A link to a package. Its passphrase, if it has one, goes another way.</summary>
    public Task OfferedAsync(string address, string room, string package, string path, DateTimeOffset until, bool hasPassphrase) => SendAsync(
        MailboxAddress.Parse(address),
        $"{room} sends {package}",
        $"""
        {room} offers you {package}. See what is in it, listen and fetch it here, until {until.ToString("d MMMM yyyy HH:mm", System.Globalization.CultureInfo.InvariantCulture)} UTC:

        {new Uri(settings.PublicAddress, path)}

        {(hasPassphrase ? "It opens with a passphrase, which the sender tells you another way." : "Whoever has this link can open it; pass it on with care.")}
        """);

    /// <summary>That a person's password was changed, for them to know if it was not them.</summary>
    public Task ChangedAsync(Account person, string what) => SendAsync(
        person,
        $"Your {what} at Lyrotrans was changed",
        $"""
        Your {what} was changed, and every other sign-in of yours was ended. If it was not you, set a new password at once:

        {new Uri(settings.PublicAddress, "/forgotten")}
        """);

    private Task SendAsync(Account person, string subject, string words) => SendAsync(new MailboxAddress(person.Name, person.Email!), subject, words);

    private Task SendAsync(MailboxAddress to, string subject, string words)
    {
        var from = new MailboxAddress("Lyrotrans", settings.MailFrom);

        // Left to itself it would be made of the machine's own name.
        var letter = new MimeMessage { Subject = subject, Date = clock.GetUtcNow(), MessageId = MimeUtils.GenerateMessageId(from.Domain), Body = new TextPart("plain") { Text = words } };
        letter.From.Add(from);
        letter.To.Add(to);
        return mailer.SendAsync(letter);
    }
}
