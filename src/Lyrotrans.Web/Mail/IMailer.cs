using MimeKit;

namespace Lyrotrans.Web.Mail;

/// <summary>Sends mail.</summary>
public interface IMailer
{
    /// <summary>Sends a letter, or keeps it where the operators find it; it is never lost without a word in the log.</summary>
    Task SendAsync(MimeMessage letter);
}
