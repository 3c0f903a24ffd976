using System.CommandLine;

namespace Lyrotrans.Cli;

/// <summary><c>lyro key</c>: the key that packages are signed with here.</summary>
internal static class KeyCommand
{
    public static Command Make()
    {
        var file = new Option<string?>("--key") { Description = "A file with another private key, in PEM." };
        var command = new Command("key", "Prints the public half of the key that packages are signed with here, and its fingerprint.") { file };
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            _ =>
            {
                var key = InstallationKey.Get(parsed.GetValue(file)).Public;
                return () =>
                {
                    Console.Out.Write(key.ToPem());
                    Console.WriteLine($"fingerprint {key.Words}");
                    return ExitCode.Good;
                };
            },
            stop));
        return command;
    }
}
