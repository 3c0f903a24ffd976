namespace Lyrotrans.Web.Keys;

/// <summary>Folders that only the application's own user opens.</summary>
public static class PrivateFolders
{
    private const UnixFileMode Owner = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;

    /// <summary>Makes the folders of data, and closes those that were open.</summary>
    public static void Close(Settings settings)
    {
        foreach (var folder in new[] { settings.StoreFolder, settings.PackageFolder, settings.KeyFolder, settings.OutboxFolder, settings.ReturnFolder })
        {
            Directory.CreateDirectory(folder);
            if (!OperatingSystem.IsWindows())
            {
                File.SetUnixFileMode(folder, Owner);
            }
        }
    }
}
