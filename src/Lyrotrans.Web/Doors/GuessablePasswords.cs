using Lyrotrans.Storage.Model;
using Microsoft.AspNetCore.Identity;

namespace Lyrotrans.Web.Doors;

/// <summary>Refuses passwords that are guessed soon: the commonest ones, rows of keys, dates and repetitions, and what is known of the person.</summary>
public sealed class GuessablePasswords : IPasswordValidator<Account>
{
    /// <summary>Longer ones are refused: nobody types them, and looking at them takes its time.</summary>
    public const int Longest = 128;

    /// <inheritdoc/>
    public Task<IdentityResult> ValidateAsync(UserManager<Account> manager, Account user, string? password)
    {
        var words = Problem(password ?? string.Empty, [user.Email ?? string.Empty, .. (user.Email ?? string.Empty).Split('@', '.'), user.Name, "lyrotrans"]);
        return Task.FromResult(words is null ? IdentityResult.Success : IdentityResult.Failed(new IdentityError { Code = "Guessable", Description = words }));
    }

    /// <summary>What is wrong with a password; null where nothing is.</summary>
    /// <param name="password">As typed.</param>
    /// <param name="known">Words that whoever guesses knows.</param>
    public static string? Problem(string password, IReadOnlyList<string> known) =>
        password.Length > Longest ? $"A password may have {Longest} characters."
        : PasswordStrength.Of(password, known) < PasswordStrength.Least ? "This password is guessed soon: it is a common one, a row of keys, or made of what is known of you. Take a few words that do not belong together."
        : null;
}
