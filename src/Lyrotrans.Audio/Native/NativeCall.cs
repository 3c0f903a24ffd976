namespace Lyrotrans.Audio.Native;

/// <summary>Turns a missing native library into an error that names the Debian package.</summary>
internal static class NativeCall
{
    public static T Of<T>(string library, string package, Func<T> call)
    {
        try
        {
            return call();
        }
        catch (DllNotFoundException)
        {
            throw new InvalidOperationException(Words(library, package));
        }
    }

    /// <summary>What to do where a library is missing.</summary>
    public static string Words(string library, string package) => $"The library {library} is not installed. Install the Debian package {package}.";
}
