using System.CommandLine;
using Lyrotrans.Cli;
using Lyrotrans.Core.Errors;

var root = new RootCommand("Moves a recording session to another studio's software, and proves it.")
{
    InspectCommand.Make(), BuildCommand.Make(), ConvertCommand.Make(), ProofCommand.Make(),
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

try
{
    return await parsed.InvokeAsync(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
}
catch (BadInputException problem)
{
    Said.Print([problem.Finding]);
    return ExitCode.BadInput;
}
catch (OperationCanceledException)
{
    Console.Error.WriteLine("Stopped.");
    return ExitCode.Stopped;
}
catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
{
    Console.Error.WriteLine(problem.Message);
    return ExitCode.CannotWrite;
}
