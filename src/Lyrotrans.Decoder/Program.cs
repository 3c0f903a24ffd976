using System.Globalization;
using System.IO.MemoryMappedFiles;
using Lyrotrans.Decoder;

// Decodes sound for another process: Lyrotrans.Decoder SAMPLES BYTES. Questions come in on standard input, answers go to standard output, samples into the file of
// so many bytes that both have in memory. A first byte says that it is ready. Ends when the questions end, or the process that asks is gone; with 4 where the
// library is not installed. Lyrotrans.Decoder run PROGRAM ARGUMENT…: gives up its rights and becomes that program, which has them no more either; ends with 4 where it
// is not installed. Lyrotrans.Decoder make FILE PROGRAM ARGUMENT…: the same, and may write that one file, which is there; ends with 5 where the kernel cannot hold it to
// that. Lyrotrans.Decoder check FILE: gives up its rights, tries to use them, the writing on a file that is not there, and says what was possible.
if (args is ["check", var file])
{
    Confinement.Confine();
    Console.WriteLine(string.Join('\n', ConfinementCheck.Lines(file)));
    return 0;
}

if (args is ["make", var made, .. { Length: > 0 } making])
{
    if (!Confinement.ConfineTo(made))
    {
        return SndFile.NotConfined;
    }

    Confinement.Become(making);
    return SndFile.NotInstalled;
}

if (args is ["run", .. { Length: > 0 } words])
{
    Confinement.Confine(mayStart: true);
    Confinement.Become(words);
    return SndFile.NotInstalled;
}

using var memory = MemoryMappedFile.CreateFromFile(args[0], FileMode.Open, null, int.Parse(args[1], CultureInfo.InvariantCulture));
using var samples = memory.CreateViewAccessor();
using var input = Console.OpenStandardInput();
using var output = Console.OpenStandardOutput();
using var orphaned = Confinement.EndWithParent();
if (!SndFile.TryLoad())
{
    return SndFile.NotInstalled;
}

Confinement.Confine();
Confinement.Silence();
output.WriteByte(1);
output.Flush();
new DecoderLoop(new BinaryReader(input), new BinaryWriter(output), samples).Run();
return 0;
