using System.CommandLine;

namespace Lyrotrans.Cli;

/// <summary><c>--accept NAME</c>: what may go without its sound; as often as there are names.</summary>
internal static class AcceptOption
{
    public static Option<string[]> Make() => new("--accept") { Description = "The name of something that may go without its sound, as it is said where it is not accepted. May be given several times.", AllowMultipleArgumentsPerToken = false };
}
