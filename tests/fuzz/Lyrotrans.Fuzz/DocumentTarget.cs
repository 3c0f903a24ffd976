using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.OpenSession;
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
            var read = document.ReadSession(name);
            CanBeKept(read.Session);
            foreach (var media in read.Media.Keys.Take(4))
            {
                document.OpenEssence(media)?.ReadAtLeast(new byte[MostEssence], MostEssence, throwOnEndOfStream: false);
            }
        }
    }

    // What came in is kept as a session document, and opened again.
    private static void CanBeKept(Session session)
    {
        var kept = SessionDocumentWriter.Write(session);
        try
        {
            using var stream = new MemoryStream(kept);
            if (SessionDocumentReader.Read(stream, "kept") != session)
            {
                throw new InvalidOperationException("It is another session when it is opened again.");
            }
        }
        catch (BadInputException problem)
        {
            throw new InvalidOperationException($"It cannot be opened again: {problem.Message}");
        }
    }
}
