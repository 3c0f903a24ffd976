namespace Lyrotrans.Formats.Ogg;

/// <summary>Gives the stream in an Ogg file a number that is always the same, where the library takes a random one (RFC 3533, 6).</summary>
public static class OggSerial
{
    private const uint Serial = 0x4C59524F;

    /// <summary>Rewrites every page of a file with one stream.</summary>
    public static void Settle(string path)
    {
        using var file = new FileStream(path, FileMode.Open, FileAccess.ReadWrite);
        for (long at = 0; OggPage.Read(file) is { } page; at += page.Bytes)
        {
            page.Serial = Serial;
            file.Position = at;
            page.Write(file);
        }
    }
}
