using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Recognition;

namespace Lyrotrans.Fuzz;

/// <summary>Reads a document of clips as an intake does: its compositions, its session, and what lies inside it.</summary>
internal static class DocumentTarget
{
    private const int MostEssence = 1 << 16;

    public static void Read(byte[] bytes, string form)
    {
        using var stream = new MemoryStream(bytes);
        var kind = form switch { "omf" => ContentKind.Omf, "otio" => ContentKind.Otio, _ => ContentKind.CompoundFile };
        var document = EditDocuments.Open(kind, stream, $"fuzz.{form}");
        foreach (var name in document.Compositions.Take(2))
        {
            var composition = document.Read(name);
            EditImport.Make(composition);
            foreach (var media in composition.Media.Keys.Take(4))
            {
                document.OpenEssence(media)?.ReadAtLeast(new byte[MostEssence], MostEssence, throwOnEndOfStream: false);
            }
        }
    }
}
