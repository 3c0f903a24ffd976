using System.CommandLine;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Preparations;

namespace Lyrotrans.Cli;

/// <summary><c>lyro schema</c>: prints the JSON Schema of one of our documents.</summary>
internal static class SchemaCommand
{
    private static readonly Dictionary<string, Func<string>> s_schemas = new() { ["session"] = SessionDocument.Schema, ["preparation"] = PreparationSchema.Text, ["sheet"] = PreparationSchema.OfSheet };

    /// <summary>The command.</summary>
    public static Command Make()
    {
        var document = new Argument<string>("document") { Description = "session or preparation." };
        document.AcceptOnlyFromAmong([.. s_schemas.Keys]);
        var command = new Command("schema", "Prints the JSON Schema of a document.") { document };
        command.SetAction(parsed =>
        {
            Console.Out.Write(s_schemas[parsed.GetRequiredValue(document)]());
            return ExitCode.Good;
        });
        return command;
    }
}
