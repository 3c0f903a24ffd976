namespace Lyrotrans.Formats.OpenSession;

/// <summary>The open session document: its version and where its schema is.</summary>
public static class SessionDocument
{
    /// <summary>The newest. A reader refuses versions above its own.</summary>
    public const int Version = 8;

    /// <summary>The version that first had rates which people declared; a document without one says the version before.</summary>
    public const int FirstDeclared = 2;

    /// <summary>The version that first had fades whose points have places; a document without one says a version before.</summary>
    public const int FirstPlaced = 3;

    /// <summary>The version that first had who set a marker and when; a document without one says a version before.</summary>
    public const int FirstMarkedBy = 4;

    /// <summary>The version that first had prints, stems, mixes and clicks that came along; a document without one says a version before.</summary>
    public const int FirstRoles = 5;

    /// <summary>The version that first had notes to tracks and clips; a document without one says a version before.</summary>
    public const int FirstNotes = 6;

    /// <summary>The version that first had a picture's own rate and size; a document without them says a version before.</summary>
    public const int FirstPictures = 7;

    /// <summary>The version that first had media in other deliveries or unsent, and prints that hold more than effects; a document without them says a version before.</summary>
    public const int FirstDeliveries = 8;

    /// <summary>The property that names the document and its version.</summary>
    public const string VersionProperty = "lyrotransSession";

    /// <summary>The JSON Schema (2020-12) of the document, as it is published in docs/.</summary>
    public static string Schema()
    {
        using var stream = typeof(SessionDocument).Assembly.GetManifestResourceStream("open-session.schema.json")!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
