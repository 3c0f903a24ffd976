using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Fuzz;

/// <summary>Reads a document that says a session as an intake does: its compositions, its session, and what lies inside it.</summary>
internal static class DocumentTarget
{
    private const int MostEssence = 1 << 16;

    public static void Read(byte[] bytes, ISessionFormat format)
    {
        using var stream = new MemoryStream(bytes);
        var document = format.Open(stream, $"fuzz{format.Extension}");
        foreach (var name in document.Compositions.Take(2))
        {
            foreach (var media in document.ReadSession(name).Media.Keys.Take(4))
            {
                document.OpenEssence(media)?.ReadAtLeast(new byte[MostEssence], MostEssence, throwOnEndOfStream: false);
            }
        }
    }
}
