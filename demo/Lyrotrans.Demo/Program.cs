using System.Globalization;
using Lyrotrans.Demo;

// demo DIR [--scale S]: writes the demo in every form that can be brought in. S is 0.1 to 1; 1 is about 75 seconds of music.
var scale = 1.0;
if (args is not ([_] or [_, "--scale", _]) || args[0].StartsWith('-') || (args.Length == 3 && !double.TryParse(args[2], CultureInfo.InvariantCulture, out scale)))
{
    Console.Error.WriteLine("Usage: lyro demo DIR [--scale 0.1 … 1]");
    return 3;
}

try
{
    DemoFiles.Write(args[0], Math.Clamp(scale, 0.1, 1));
    return 0;
}
catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
{
    Console.Error.WriteLine(problem.Message);
    return 4;
}
