namespace Lyrotrans.Files;

/// <summary>How much room there is on disks.</summary>
public static class DiskSpace
{
    /// <summary>Free bytes where a folder lies, or null where the system does not say.</summary>
    public static long? FreeIn(string folder)
    {
        try
        {
            return new DriveInfo(folder).AvailableFreeSpace;
        }
        catch (Exception problem) when (problem is IOException or ArgumentException or UnauthorizedAccessException)
        {
            return null;
        }
    }
}
