namespace Lyrotrans.Cli;

/// <summary>What the command's exit code means.</summary>
public static class ExitCode
{
    public const int Good = 0;

    /// <summary>The proof found differences.</summary>
    public const int Differences = 1;

    /// <summary>A file cannot be read as what it should be.</summary>
    public const int BadInput = 2;

    /// <summary>The command line is wrong.</summary>
    public const int Usage = 3;

    /// <summary>The disk is full, or something cannot be written.</summary>
    public const int CannotWrite = 4;

    /// <summary>The program itself failed.</summary>
    public const int Fault = 5;

    /// <summary>All is as meant, but something goes without its sound and was not accepted by its name.</summary>
    public const int WithoutSound = 6;

    /// <summary>A package is whole, but nobody here knows who signed it, and no session was given to hold it to.</summary>
    public const int SignerUnknown = 7;

    /// <summary>Stopped by the user.</summary>
    public const int Stopped = 130;
}
