using System.CommandLine;
using Lyrotrans.Workflow.Handing;

namespace Lyrotrans.Cli;

/// <summary><c>lyro verify FILE</c>: whether a file is as whoever signed it left it, and who that is.</summary>
internal static class VerifyCommand
{
    public static Command Make()
    {
        var file = new Argument<string>("FILE") { Description = "A report of a handover, or any file with a signature beside it." };
        var signature = new Option<string?>("--signature") { Description = "Its signature; without it FILE.sig, or for a manifest manifest.sig." };
        var keys = new Option<string[]>("--key") { Description = "A file with a key of whoever may have signed it, in PEM, or its fingerprint. May be given several times.", AllowMultipleArgumentsPerToken = false };
        var command = new Command("verify", "Holds a file to the signature that lies beside it.") { file, signature, keys };
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            _ =>
            {
                var found = SignedFile.Read(parsed.GetRequiredValue(file), parsed.GetValue(signature));
                var known = InstallationKey.Known(parsed.GetValue(keys) ?? [], found.Signature.Key);
                return () =>
                {
                    var whose = known.GetValueOrDefault(found.Signature.Key);
                    Console.WriteLine(found.Words(whose));
                    return !found.IsWhole ? ExitCode.Differences : whose is null ? ExitCode.SignerUnknown : ExitCode.Good;
                };
            },
            stop));
        return command;
    }
}
