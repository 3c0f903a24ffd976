using Lyrotrans.Storage.Model;

namespace Lyrotrans.Web.Doors;

/// <summary>How long a sign-in holds.</summary>
public static class SignInLimits
{
    /// <summary>Without anything done, where one did not choose to stay.</summary>
    public static readonly TimeSpan Idle = TimeSpan.FromHours(8);

    /// <summary>In all, where one did not choose to stay.</summary>
    public static readonly TimeSpan Whole = TimeSpan.FromHours(24);

    /// <summary>Without anything done, where one chose to stay.</summary>
    public static readonly TimeSpan IdleStaying = TimeSpan.FromDays(14);

    /// <summary>In all, where one chose to stay.</summary>
    public static readonly TimeSpan WholeStaying = TimeSpan.FromDays(90);

    /// <summary>Whether a sign-in still holds.</summary>
    public static bool Holds(SignIn signIn, DateTimeOffset now) =>
        now - signIn.SeenAt < (signIn.Stays ? IdleStaying : Idle) && now - signIn.BeganAt < (signIn.Stays ? WholeStaying : Whole);
}
