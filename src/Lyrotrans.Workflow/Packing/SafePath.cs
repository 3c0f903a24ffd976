namespace Lyrotrans.Workflow.Packing;

/// <summary>Names that came from outside and may become paths.</summary>
public static class SafePath
{
    /// <summary>Whether a relative name stays inside the folder that it is put under, on every system.</summary>
    public static bool IsSafe(string name) => Problem(name) is null;

    /// <summary>Why a name is refused, in words; null when it is safe.</summary>
    public static string? Problem(string name)
    {
        var unified = name.Replace('\\', '/');
        if (unified.Length == 0 || name.Any(char.IsControl))
        {
            return "it is empty or has control characters";
        }

        if (unified[0] == '/' || (unified.Length > 1 && unified[1] == ':'))
        {
            return "it is an absolute path";
        }

        if (unified.Split('/').Any(p => p is ".." or "."))
        {
            return "it climbs out of its folder";
        }

        return System.Text.Encoding.UTF8.GetByteCount(unified) > 1000 || unified.Split('/').Any(p => System.Text.Encoding.UTF8.GetByteCount(p) > 240)
            ? "it is too long"
            : null;
    }

    /// <summary>Side files that programs and systems leave behind; they are never taken in.</summary>
    public static bool IsSideFile(string name)
    {
        var parts = name.Replace('\\', '/').Split('/');
        var last = parts[^1];
        return parts.Contains("__MACOSX") || last.StartsWith("._", StringComparison.Ordinal)
            || last is ".DS_Store" or "Thumbs.db" or "desktop.ini";
    }
}
