using System.CommandLine;
using Lyrotrans.Cli;

Console.SetOut(new MarkedWriter(Console.Out));
Console.SetError(new MarkedWriter(Console.Error));
var root = new RootCommand("Moves a recording session to another studio's software, and proves it.")
{
    InspectCommand.Make(), BuildCommand.Make(), ConvertCommand.Make(), ProofCommand.Make(), VerifyCommand.Make(), ArrivedCommand.Make(), ReturnedCommand.Make(), PlaceCommand.Make(), KeyCommand.Make(), SchemaCommand.Make(),
};
var parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    foreach (var error in parsed.Errors)
    {
        Console.Error.WriteLine(error.Message);
    }

    return ExitCode.Usage;
}

return await parsed.InvokeAsync(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
