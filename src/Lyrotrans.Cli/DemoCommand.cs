using System.CommandLine;
using Lyrotrans.Demo;

namespace Lyrotrans.Cli;

/// <summary><c>lyro demo DIR</c>: writes the demo session in every form.</summary>
internal static class DemoCommand
{
    public static Command Make()
    {
        var folder = new Argument<string>("DIR") { Description = "Gets the folders session, stamped, bells, aaf-linked, aaf-embedded, omf and otio." };
        var scale = new Option<double>("--scale") { Description = "1 is about 75 seconds of music.", DefaultValueFactory = _ => 1 };
        var command = new Command("demo", "Writes the demo session with its media.") { folder, scale };
        command.SetAction(parsed =>
        {
            DemoFiles.Write(parsed.GetRequiredValue(folder), Math.Clamp(parsed.GetValue(scale), 0.1, 1));
            return ExitCode.Good;
        });
        return command;
    }
}
