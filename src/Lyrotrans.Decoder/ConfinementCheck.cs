using System.ComponentModel;
using System.Diagnostics;
using System.Net.Sockets;

namespace Lyrotrans.Decoder;

/// <summary>Tries what a confined process must not be able to do.</summary>
internal static class ConfinementCheck
{
    private const long TooMuch = 2L << 30;

    /// <summary>A line for each: what it is, and whether it was refused.</summary>
    /// <param name="file">A file that is not there.</param>
    public static IEnumerable<string> Lines(string file)
    {
        yield return Said("network", () => new Socket(AddressFamily.InterNetwork, SocketType.Stream, ProtocolType.Tcp).Dispose());
        yield return Said("other programs", () => Process.Start("/bin/true")?.Dispose());
        yield return Said("writing", () => File.WriteAllText(file, "written"));
        yield return Said("removing", () => File.Delete(file));
        yield return Said("more memory", Fill);
    }

    private static unsafe void Fill()
    {
        var at = System.Runtime.InteropServices.NativeMemory.Alloc((nuint)TooMuch);
        System.Runtime.InteropServices.NativeMemory.Free(at);
    }

    private static string Said(string what, Action act)
    {
        try
        {
            act();
            return $"{what}: possible";
        }
        catch (Exception problem) when (problem is SocketException or Win32Exception or UnauthorizedAccessException or IOException or OutOfMemoryException)
        {
            return $"{what}: refused";
        }
    }
}
