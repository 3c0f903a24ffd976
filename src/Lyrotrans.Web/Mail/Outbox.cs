using System.Globalization;
using MimeKit;

namespace Lyrotrans.Web.Mail;

/// <summary>A folder of letters that no server took, for the operators to pass on.</summary>
public sealed class Outbox(Settings settings, TimeProvider clock) : IMailer
{
    /// <inheritdoc/>
    public async Task SendAsync(MimeMessage letter)
    {
        var name = $"{clock.GetUtcNow().ToString("yyyyMMdd'T'HHmmssfff", CultureInfo.InvariantCulture)}-{Guid.NewGuid():N}.eml";
        var part = Path.Combine(settings.OutboxFolder, name + ".part");
        await letter.WriteToAsync(part);
        File.Move(part, Path.Combine(settings.OutboxFolder, name));
    }

    /// <summary>The letters, the newest first.</summary>
    public IReadOnlyList<MimeMessage> Newest(int most) =>
        [.. Directory.EnumerateFiles(settings.OutboxFolder, "*.eml").OrderDescending(StringComparer.Ordinal).Take(most).Select(f => MimeMessage.Load(f))];
}
