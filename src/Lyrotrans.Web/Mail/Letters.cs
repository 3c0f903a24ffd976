using Lyrotrans.Storage.Model;
using MimeKit;

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

    /// <summary>That a person's password was changed, for them to know if it was not them.</summary>
    public Task ChangedAsync(Account person, string what) => SendAsync(
        person,
        $"Your {what} at Lyrotrans was changed",
        $"""
        Your {what} was changed, and every other sign-in of yours was ended. If it was not you, set a new password at once:

        {new Uri(settings.PublicAddress, "/forgotten")}
        """);

    private Task SendAsync(Account person, string subject, string words)
    {
        var letter = new MimeMessage { Subject = subject, Date = clock.GetUtcNow(), Body = new TextPart("plain") { Text = words } };
        letter.From.Add(new MailboxAddress("Lyrotrans", settings.MailFrom));
        letter.To.Add(new MailboxAddress(person.Name, person.Email!));
        return mailer.SendAsync(letter);
    }
}
